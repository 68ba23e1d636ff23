import { IncomingMessage } from "node:http";
import { Socket } from "node:net";
import { describe, expect, it } from "vitest";
import { addressReader } from "./door";

const requestFrom = (address: string, forwarded?: string): IncomingMessage => {
  const socket = new Socket();
  Object.defineProperty(socket, "remoteAddress", { value: address });
  const request = new IncomingMessage(socket);
  if (forwarded) request.headers["x-forwarded-for"] = forwarded;
  return request;
};

describe("whose address a request is counted under", () => {
  it("is the connection's own, whatever a header says, where no proxy is named", () => {
    expect(addressReader([])(requestFrom("198.51.100.9", "203.0.113.1"))).toBe("198.51.100.9");
  });
  it("is the one that the named proxy saw: what the visitor wrote before it is not believed", () => {
    const read = addressReader(["10.0.0.0/8"]);
    expect(read(requestFrom("10.1.2.3", "203.0.113.1"))).toBe("203.0.113.1");
    expect(read(requestFrom("10.1.2.3", "192.0.2.77, 203.0.113.1"))).toBe("203.0.113.1");
    expect(read(requestFrom("10.1.2.3", "203.0.113.1, 10.9.9.9"))).toBe("203.0.113.1");
    expect(read(requestFrom("198.51.100.9", "203.0.113.1"))).toBe("198.51.100.9");
    expect(read(requestFrom("10.1.2.3"))).toBe("10.1.2.3");
  });
  it("cannot be set up with what is no address", () => {
    expect(() => addressReader(["somewhere"])).toThrow();
  });
});
