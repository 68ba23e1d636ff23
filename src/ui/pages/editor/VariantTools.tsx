import { say } from "../../kit/notices";
import * as pages from "../../../contract/pages";
import { rateWords } from "../../../core/figures";
import { counted } from "../../../core/words";
import { useState } from "react";
import { goalOf } from "../../../core/pages";
import type { PageKind } from "../../../core/launch";
import { Button } from "../../kit/Button";
import { Dialog } from "../../kit/Dialog";
import { Field } from "../../kit/fields/Field";
import { type Answer, call } from "../../kit/data/call";
import styles from "./editor.module.css";

export interface Version {
  id: string;
  key: string;
  variant: string;
  weight: number;
  published: boolean;
  figure: { people: number; optedIn: number; began: number; paid: number };
}

interface Props {
  launch: string;
  kind: PageKind;
  /** The version that is open here. */
  here: string;
  /** The page itself first. */
  versions: Version[];
}

/** The versions of a page that are tested against one another: their shares, what came of each, and the end of the test. */
export const VariantTools = ({ launch, kind, here, versions }: Props) => {
  const [weights, setWeights] = useState(() => Object.fromEntries(versions.map(({ id, weight }) => [id, String(weight)])));
  const [wrong, setWrong] = useState<string>();
  const [ending, setEnding] = useState<Version>();
  const page = versions[0]!;
  const go = (key: string) => location.assign(`/desk/${launch}/pages/${key}`);
  const act = async <T,>(asked: Promise<Answer<T>>): Promise<T | undefined> => {
    const answer = await asked;
    if (answer.ok) return answer.value;
    setWrong(Object.values(answer.fields)[0]);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
    return undefined;
  };
  const share = async () => {
    const numbers = Object.fromEntries(Object.entries(weights).map(([id, text]) => [id, Number(text)]));
    if (await act(call(pages.setWeights, { params: { id: page.id }, request: { weights: numbers } }))) {
      setWrong(undefined);
      say("The shares hold from the next visitor on. Who has seen a version goes on seeing it.");
    }
  };
  const whole = Object.values(weights).reduce((sum, text) => sum + (Number(text) || 0), 0);
  return (
    <details className={styles.tool} open={versions.length > 1}>
      <summary>Versions to test</summary>
      {versions.length === 1 ? (
        <p className="muted">A second version begins as this page stands. A person always sees the same one.</p>
      ) : (
        <>
          <ul className={styles.versions}>
            {versions.map((one) => {
              const goal = goalOf(kind, one.figure);
              return (
                <li key={one.id}>
                  <p>
                    <b>Version {one.variant}</b> {one.key === here ? "is open here" : <a href={`/desk/${launch}/pages/${one.key}`}>open it</a>}
                    {!one.published && <span className={styles.off}>, not published: nobody sees it</span>}
                  </p>
                  <p className="muted">
                    {goal ? `${goal.says}: ${rateWords(goal.people, one.figure.people)}` : counted(one.figure.people, "person", "people")}
                  </p>
                  <Field
                    label={`Share of ${one.variant}${whole > 0 ? `, now ${Math.round((100 * (Number(weights[one.id]) || 0)) / whole)} %` : ""}`}
                    inputMode="numeric"
                    value={weights[one.id]}
                    onChange={(event) => setWeights({ ...weights, [one.id]: event.currentTarget.value })}
                  />
                  <p className={styles.acts}>
                    {one.published && (
                      <button type="button" onClick={() => setEnding(one)}>
                        Make {one.variant} the page
                      </button>
                    )}
                    {one !== page && (
                      <button
                        type="button"
                        onClick={() => void act(call(pages.dropVariant, { params: { id: one.id } })).then((done) => done && go(page.key))}
                      >
                        Take {one.variant} away
                      </button>
                    )}
                  </p>
                </li>
              );
            })}
          </ul>
          {wrong && <p className={styles.blocking}>{wrong}</p>}
          <Button onClick={() => void share()}>Set the shares</Button>{" "}
        </>
      )}
      {versions.length < 4 && (
        <Button onClick={() => void act(call(pages.addVariant, { params: { id: page.id } })).then((made) => made && go(made.key))}>
          Add a version
        </Button>
      )}
      {ending && (
        <Dialog
          title={`Make version ${ending.variant} the page`}
          confirm={`End the test with ${ending.variant}`}
          onClose={() => setEnding(undefined)}
          onConfirm={() => void act(call(pages.makeWinner, { params: { id: ending.id } })).then((done) => done && go(page.key))}
        >
          <p>
            Everyone sees version {ending.variant} from now on, and {versions.length === 2 ? "the other goes" : `the other ${versions.length - 1} go`}
            . The page as it was stays in its history.
          </p>
        </Dialog>
      )}
    </details>
  );
};
