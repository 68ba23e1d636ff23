import { useState } from "react";
import { erasePerson, readErasure } from "../../contract/people";
import type { ErasureFacts } from "../../core/people";
import { counted } from "../../core/words";
import { Button } from "../kit/Button";
import { call } from "../kit/data/call";
import { Dialog } from "../kit/Dialog";
import { goSaying, say } from "../kit/notices";

/** Erases a person who asks for it, once what that means has been read. */
export const ErasePerson = ({ id, name }: { id: string; name: string }) => {
  const [facts, setFacts] = useState<ErasureFacts>();
  const ask = async () => {
    const answer = await call(readErasure, { params: { id } });
    if (!answer.ok) return say(answer.message, true);
    setFacts(answer.value);
  };
  const erase = async () => {
    const answer = await call(erasePerson, { params: { id } });
    if (!answer.ok) return say(answer.message, true);
    goSaying("/desk/people", `${name} is erased.`);
  };
  return (
    <>
      <Button destructive onClick={() => void ask()}>
        Erase this person…
      </Button>
      {facts && (
        <Dialog
          title={`Erase ${name}`}
          confirm={facts.blocked ? "Close" : `Erase ${name} for good`}
          destructive={!facts.blocked}
          onConfirm={() => (facts.blocked ? setFacts(undefined) : void erase())}
          onClose={() => setFacts(undefined)}
        >
          {facts.blocked ? (
            <p>
              {facts.blocked === "payment"
                ? "A payment of theirs is on its way. Try again in a few minutes."
                : "They have a subscription or instalments that run. End those first."}
            </p>
          ) : (
            <>
              <p>
                Address, name, phone, country, answers, tags, consents and the way into their library go, from everywhere; so{" "}
                {facts.comments + facts.emails === 1 ? "does" : "do"} {counted(facts.comments, "comment", "comments")} and{" "}
                {counted(facts.emails, "email that waits", "emails that wait")}. Nobody can bring them back.
              </p>
              <p>
                {facts.orders > 0
                  ? `${counted(facts.orders, "order keeps", "orders keep")} name and address for the books, seen by owner and finance alone. `
                  : ""}
                What they did is still counted, without a way back to who did it. A file of people cannot bring them in again; they themselves can
                come back.
              </p>
            </>
          )}
        </Dialog>
      )}
    </>
  );
};
