import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import type { AddressInfo } from "node:net";
import { randomUUID } from "node:crypto";
import { Webhook } from "standardwebhooks";
import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { webhookEventNames, type WebhookEvent } from "../../src/core/webhooks";
import { sendWebhook } from "../../src/outside/webhooks";
import { dateClocks } from "../../src/server/launch";
import type { LaunchContext } from "../../src/server/launch/launchContext";
import { refundOrder } from "../../src/server/payments";
import { optIn } from "../../src/server/people/optIn";
import { erasePerson } from "../../src/server/people/erasePerson";
import { addEndpoint, changeEndpoint, endpointSecret, listEndpoints, listMessages, queueMessages, resendMessage, WebhookSender } from "../../src/server/webhooks"; // prettier-ignore
import { keepFor, sweepRetention } from "../../src/store/settings/retention";
import { ClockStart, Contact, PersonTag, WebhookEndpoint, WebhookMessage } from "../../src/store/tables";
import { advance, buy, buyer, openLaunch, sentBy, someone, startWorld, visitor, type World } from "../support/world";

let world: World;
let tool: Awaited<ReturnType<typeof otherTool>>;
beforeAll(async () => {
  world = await startWorld();
  world.app.config.INKBELL_WEBHOOK_NETWORKS.push("127.0.0.1");
  tool = await otherTool();
});
afterAll(async () => {
  await tool.stop();
  await world.stop();
});
afterEach(async () => {
  tool.answer = (response) => response.writeHead(204).end();
  await em().nativeDelete(WebhookEndpoint, {});
});

const em = () => world.app.fork();
const now = () => world.app.clock.now();

interface Came {
  id: string;
  headers: Record<string, string>;
  body: string;
}
/** Another tool that listens, keeps what came, and answers as it is told to. */
const otherTool = async () => {
  const came: Came[] = [];
  const self = {
    came,
    url: "",
    answer: (response: ServerResponse): unknown => response.writeHead(204).end(),
    stop: () =>
      new Promise((done) => {
        server.close(done);
        server.closeAllConnections();
      }),
  };
  const server = createServer((request: IncomingMessage, response) => {
    let body = "";
    request.setEncoding("utf8");
    request.on("data", (part: string) => (body += part));
    request.on("end", () => {
      const headers = request.headers as Record<string, string>;
      came.push({ id: headers["webhook-id"]!, headers, body });
      self.answer(response);
    });
  });
  await new Promise<void>((listens) => server.listen(0, "127.0.0.1", listens));
  self.url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/in`;
  return self;
};

const told = async (events: readonly WebhookEvent[], change: { url?: string; launch?: string } = {}): Promise<string> => {
  tool.came.length = 0;
  return addEndpoint(em(), world.owner, { url: change.url ?? tool.url, events: [...events], launch: change.launch ?? null }, now());
};
/** Looks what has happened and sends what is due, once. */
const deliver = async (): Promise<void> => {
  await dateClocks(world.app);
  await queueMessages(world.app);
  const sender = new WebhookSender(world.app);
  await sender.sendDue();
  await sender.stop();
};
const messages = (endpoint: string) => em().find(WebhookMessage, { endpointId: endpoint }, { orderBy: { happenedAt: 1 } });
const types = () => tool.came.map(({ body }) => (JSON.parse(body) as { type: string }).type).sort();
const joins = async (of: LaunchContext) => {
  const email = `una.${randomUUID().slice(0, 8)}@heddle.example`;
  const { visitorId } = visitor();
  await optIn(em(), of, { email, firstName: "Una", answers: {} }, sentBy(visitorId, now(), { page: "" }));
  return em().findOneOrFail(Contact, { email });
};

describe("another tool", () => {
  it("is told of what happens from then on, once, with a signature that the specification's library takes", async () => {
    const of = await openLaunch(world);
    await joins(of);
    await advance(world, 1);
    const id = await told(webhookEventNames);
    await advance(world, 1);
    const una = await joins(of);
    const ada = buyer();
    const { order } = await buy(world, of, visitor(), ada);
    await em().insert(PersonTag, { personId: una.personId, tag: "wool", at: now() });
    await advance(world, 1);
    await refundOrder(world.app, em(), world.owner, order!.id, { act: randomUUID(), lines: {}, amount: "149.00", reason: "" });
    await Promise.all([queueMessages(world.app), queueMessages(world.app)]);
    await deliver();
    await deliver();
    expect(types()).toEqual(["order.paid", "order.refunded", "person.opted_in", "person.tagged"]);
    const secret = await endpointSecret(em(), world.owner, id, false, now());
    for (const { headers, body } of tool.came) expect(new Webhook(secret).verify(body, headers)).toEqual(JSON.parse(body));
    const paid = tool.came.map(({ body }) => JSON.parse(body) as { type: string; data: never }).find(({ type }) => type === "order.paid")!;
    expect(paid.data).toMatchObject({
      launch: { slug: of.launch.slug },
      person: { email: ada.email },
      order: { amount: "149.00", currency: "EUR", products: [{ name: "The Workshop" }] },
    });
    const [row] = (await listEndpoints(em(), world.owner)).endpoints;
    expect(row).toMatchObject({ due: 0, delivered: 4, failed: 0 });
  });

  it("is told when clocks start, are stopped and run out, of one launch alone where it asks so", async () => {
    const of = await openLaunch(world, { request: { clock: "personal", personHours: 2 } });
    const other = await openLaunch(world, { request: { clock: "personal", personHours: 2 } });
    const id = await told(["clock.started", "clock.stopped", "clock.ended", "order.paid"], { launch: of.launch.id });
    await advance(world, 1);
    const [una] = [await joins(of), await joins(other)];
    const [who, ada] = [visitor(), buyer()];
    await optIn(em(), of, { ...ada, answers: {} }, sentBy(who.visitorId, now(), { page: "" }));
    await buy(world, of, who, ada);
    await deliver();
    await advance(world, 119);
    await deliver();
    expect(types().filter((type) => type === "clock.ended")).toEqual([]);
    await advance(world, 2);
    await deliver();
    await deliver();
    const stops = of.launch.settings.stops.length > 0;
    expect(types()).toEqual(["clock.ended", ...(stops ? [] : ["clock.ended"]), "clock.started", "clock.started", ...(stops ? ["clock.stopped"] : []), "order.paid"]); // prettier-ignore
    const start = await em().findOneOrFail(ClockStart, { personId: una.personId });
    const ended = (await messages(id)).find(({ type, personId }) => type === "clock.ended" && personId === una.personId)!;
    expect(ended.happenedAt).toEqual(start.endsAt);
  });

  it("gets a message again by the schedule, the same under the same id, until it takes it", async () => {
    const of = await openLaunch(world);
    const id = await told(["person.opted_in"]);
    await joins(of);
    tool.answer = (response) => response.writeHead(503, { "retry-after": "600" }).end("not now");
    await deliver();
    const [waits] = await messages(id);
    expect([waits!.state, waits!.status, waits!.says, waits!.tries]).toEqual(["due", 503, "not now", 1]);
    expect(Math.round((waits!.dueAt.getTime() - now().getTime()) / 60_000)).toBe(10);
    await advance(world, 9);
    await deliver();
    expect(tool.came).toHaveLength(1);
    tool.answer = (response) => response.writeHead(302, { location: `${tool.url}/elsewhere` }).end();
    await advance(world, 2);
    await deliver();
    tool.answer = (response) => response.writeHead(200).end("thank you");
    await advance(world, 6);
    await deliver();
    expect(tool.came.map((one) => [one.id, one.body])).toEqual(Array.from({ length: 3 }, () => [tool.came[0]!.id, tool.came[0]!.body]));
    expect((await messages(id)).map(({ state, tries, status }) => [state, tries, status])).toEqual([["delivered", 3, 200]]);
  });

  it("that takes nothing for days is told no more, and is told all of it again when its owner says so", async () => {
    const of = await openLaunch(world);
    const id = await told(["person.opted_in"]);
    await joins(of);
    await queueMessages(world.app);
    await em().nativeUpdate(WebhookMessage, { endpointId: id }, { tries: 9 });
    tool.answer = (response) => response.writeHead(500).end();
    await deliver();
    expect((await listEndpoints(em(), world.owner)).endpoints[0]).toMatchObject({ offBecause: "failing", failed: 1 });
    await joins(of);
    await deliver();
    expect(await messages(id)).toHaveLength(1);
    tool.answer = (response) => response.writeHead(204).end();
    await changeEndpoint(em(), world.owner, id, { do: "on" }, now());
    expect(await changeEndpoint(em(), world.owner, id, { do: "send_failed" }, now())).toBe(1);
    await deliver();
    const [all] = await messages(id);
    expect(all).toMatchObject({ state: "delivered", tries: 1 });
    await resendMessage(em(), world.owner, all!.id, now());
    await deliver();
    expect(tool.came).toHaveLength(3);
    expect(await listMessages(em(), world.owner, id, { state: "delivered", most: 10 })).toMatchObject({ all: 1, messages: [{ status: 204 }] });
  });

  it("that wants no more gets no more", async () => {
    const id = await told(["person.opted_in"]);
    await changeEndpoint(em(), world.owner, id, { do: "test" }, now());
    tool.answer = (response) => response.writeHead(410).end();
    await deliver();
    expect(await em().findOneOrFail(WebhookEndpoint, { id })).toMatchObject({ offBecause: "gone" });
    expect(types()).toEqual(["webhook.test"]);
  });

  it("checks by either secret for a day after it was changed", async () => {
    const id = await told(["person.opted_in"]);
    const before = await endpointSecret(em(), world.owner, id, false, now());
    const after = await endpointSecret(em(), world.owner, id, true, now());
    const test = () => changeEndpoint(em(), world.owner, id, { do: "test" }, now());
    await test();
    await deliver();
    await advance(world, 24 * 60 + 1);
    await test();
    await deliver();
    const holds = (secret: string, { headers, body }: Came) => {
      try {
        new Webhook(secret).verify(body, headers);
        return true;
      } catch {
        return false;
      }
    };
    expect(tool.came.map((one) => [holds(before, one), holds(after, one)])).toEqual([
      [true, true],
      [false, true],
    ]);
  });

  it("is not reached at a private address, by its number or by a name, but where that is allowed", async () => {
    const says = async (url: string, allowed: string[] = []) => {
      const { status, says } = await sendWebhook(
        { url, id: "msg_1", body: "{}", secrets: [`whsec_${Buffer.alloc(24).toString("base64")}`] },
        allowed,
      );
      return status ?? says;
    };
    const port = new URL(tool.url).port;
    for (const host of [
      "127.0.0.1",
      "localhost",
      "[::1]",
      "[::ffff:127.0.0.1]",
      "0.0.0.0",
      "2130706433",
      "0x7f.1",
      "10.0.0.1",
      "169.254.169.254",
      "192.168.1.1",
    ])
      expect(await says(`http://${host}:${port}/`), host).toMatch(/private/);
    expect(await says(tool.url, ["127.0.0.0/8"])).toBe(204);
    expect(await says("http://127.0.0.1:1/", ["127.0.0.1"])).toBe("ECONNREFUSED");
    expect(await says("not an address")).toMatch(/URL/i);
  });

  it("that answers without end or not at all holds up nobody else", async () => {
    const slow = await otherTool();
    slow.answer = () => undefined;
    try {
      const ids = [await told(["person.opted_in"], { url: slow.url }), await told(["person.opted_in"])];
      for (const id of ids) for (let n = 0; n < 6; n += 1) await changeEndpoint(em(), world.owner, id, { do: "test" }, now());
      const sender = new WebhookSender(world.app);
      for (let n = 0; n < 20 && tool.came.length < 6; n += 1) {
        await sender.sendDue();
        await new Promise((next) => setTimeout(next, 50));
      }
      expect([slow.came.length, tool.came.length]).toEqual([4, 6]);
      tool.answer = (response) => {
        response.writeHead(200);
        const more = setInterval(() => response.write("x".repeat(10_000)), 5);
        response.on("close", () => clearInterval(more));
      };
      await changeEndpoint(em(), world.owner, ids[1]!, { do: "test" }, now());
      await sender.sendDue();
      await expect.poll(async () => (await messages(ids[1]!)).filter(({ state }) => state === "delivered").length, { timeout: 5_000 }).toBe(7);
    } finally {
      await slow.stop();
    }
  });

  it("is told nothing of whoever was erased, and what it was told is forgotten with them and in time", async () => {
    const of = await openLaunch(world);
    const id = await told(["person.opted_in"]);
    const [una, left] = [await joins(of), await joins(of)];
    await deliver();
    expect(await messages(id)).toHaveLength(2);
    await erasePerson(world.app, em(), world.owner, una.personId, now());
    expect((await messages(id)).map(({ personId }) => personId)).toEqual([left.personId]);
    await deliver();
    expect(await messages(id)).toHaveLength(1);
    await keepFor(em(), "notices", 1);
    await sweepRetention(em(), new Date(now().getTime() + 2 * 86_400_000));
    expect(await messages(id)).toEqual([]);
    await keepFor(em(), "notices", null);
  });

  it("is its owner's business alone", async () => {
    const id = await told(["person.opted_in"]);
    const editor = someone("editor");
    for (const tried of [
      () => listEndpoints(em(), editor),
      () => endpointSecret(em(), editor, id, false, now()),
      () => changeEndpoint(em(), editor, id, { do: "remove" }, now()),
    ])
      await expect(tried()).rejects.toMatchObject({ data: { code: "not_allowed" } });
    await expect(changeEndpoint(em(), world.owner, randomUUID(), { do: "on" }, now())).rejects.toMatchObject({ status: 404 });
  });
});
