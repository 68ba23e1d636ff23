import type { Partner } from "../src/store/tables";
import type { EntityManager } from "../src/store/orm";
import type { Random } from "./random";

const hour = 3_600_000;

const said: [page: number, hoursAgo: number, name: string, body: string, reply?: string][] = [
  [1, 190, "Maren", "Cast on three times before I stopped counting twice. The film at the half-way point is what did it."],
  [
    1,
    171,
    "Bram",
    "Does it work with a thinner yarn? I have a cone of 4-ply from my aunt.",
    "It does: take 310 stitches instead, and needles of 2.25 mm.",
  ],
  [2, 140, "Lowri", "My grandfather's gansey has this very gusset. Now I know what I am looking at."],
  [2, 118, "Signe", "I would like to see the decreases once more, slowly."],
  [
    3,
    92,
    "Greet",
    "Drew a ladder and two anchors. It looks like a harbour with bad weather, and I like it.",
    "Bring it to the live hour; we will look at it.",
  ],
  [3, 60, "Niamh", "Is squared paper at the right ratio in the pack, or do I rule it myself?"],
];
const waiting: [page: number, hoursAgo: number, name: string, body: string][] = [
  [3, 5, "Tove", "My chart is 43 stitches wide. Do I leave one out or add a rib?"],
  [1, 2, "Finn", "Which of the wools keeps its shape best?"],
];

/** What people said below the episodes, a partner's word for those who come by them, and one who asks to be a partner. */
export const seedVoices = async (
  em: EntityManager,
  random: Random,
  launchId: string,
  { partner, picture, owner }: { partner: Partner; picture: string; owner: string },
  now: Date,
): Promise<void> => {
  const ago = (hours: number) => new Date(now.getTime() - hours * hour);
  const people = await em.execute<{ person_id: string }[]>(
    "select person_id from stage_rollup where launch_id = ? and opted_in is not null order by person_id limit 12",
    [launchId],
  );
  const [user] = await em.execute<{ id: string }[]>("select id from desk_user where email = ?", [owner]);
  const comments = [
    ...said.map(([page, hours, name, body, reply = ""]) => ({ page, at: ago(hours), name, body, reply, decided: ago(hours - 3) })),
    ...waiting.map(([page, hours, name, body]) => ({ page, at: ago(hours), name, body, reply: "", decided: undefined })),
  ];
  for (const [index, { page, at, name, body, reply, decided }] of comments.entries())
    await em.execute(
      `insert into page_comment (id, launch_id, page, person_id, name, body, at, state, decided_at, decided_by, reply, replied_at)
       values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
      [
        random.uuid(),
        launchId,
        `episodes/${page}`,
        people[index]!.person_id,
        name,
        body,
        at,
        decided ? "shown" : "waiting",
        decided ?? null,
        decided ? user!.id : null,
        reply,
        reply ? decided! : null,
      ],
    );
  await em.execute("insert into partner_word (launch_id, partner_id, name, note, media_id, at) values (?, ?, ?, ?, ?, ?)", [
    launchId,
    partner.id,
    "Isla of Skerry Yarns",
    "I knitted my first gansey with these charts, and it has been to sea twice. Ask me about the wool.",
    picture,
    ago(200),
  ]);
  await em.execute("insert into partner_application (id, launch_id, email, name, words, at) values (?, ?, ?, ?, ?, ?)", [
    random.uuid(),
    launchId,
    "hilda@lambingstorm.example",
    "Lambing Storm Wool",
    "I write a letter every other Sunday to 1,900 spinners in the north, and half of them ask what to knit.",
    ago(7),
  ]);
};
