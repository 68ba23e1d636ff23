import { behindAnOrder, type GateAnswerSetting, type GateRule } from "../../../core/launch";
import { Button } from "../../kit/Button";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { changed, freshId, pageName, without, type ClockDraft } from "./clockDraft";
import { CoverageField } from "./CoverageField";
import styles from "./Clock.module.css";

const phases = { before: "Before", during: "While open", after: "After" } as const;
type Phase = keyof typeof phases;

const AnswerField = ({ draft, gate, index, phase }: { draft: ClockDraft; gate: GateRule; index: number; phase: Phase }) => {
  const answer = gate[phase];
  const set = (next: GateAnswerSetting) => draft.set({ gates: changed(draft.settings.gates, index, { [phase]: next }) });
  const wrong = draft.wrong(`gates.${index}.${phase}`) ?? draft.wrong(`gates.${index}.${phase}.url`);
  return (
    <div>
      <Select
        label={phases[phase]}
        value={answer.to === "page" ? `page:${answer.page}` : answer.to}
        wrong={answer.to === "address" ? undefined : wrong}
        options={[
          { value: "itself", label: "the page itself" },
          ...draft.pages
            .filter((page) => !behindAnOrder(page.kind))
            .map((page) => ({ value: `page:${page.key}` as const, label: pageName(page, draft.pages) })),
          { value: "address", label: "an address outside" },
        ]}
        onChange={(picked) =>
          set(
            picked === "itself"
              ? { to: "itself" }
              : picked === "address"
                ? { to: "address", url: "https://" }
                : { to: "page", page: picked.slice(5) },
          )
        }
      />
      {answer.to === "address" && (
        <Field
          label="Address"
          type="url"
          value={answer.url}
          wrong={wrong}
          onChange={(event) => set({ to: "address", url: event.currentTarget.value })}
        />
      )}
    </div>
  );
};

/** Gates beyond the ready ones: what addresses answer before, while and after the doors are open. */
export const GateSection = ({ draft }: { draft: ClockDraft }) => {
  const { gates } = draft.settings;
  return (
    <section className={styles.section} aria-labelledby="gates">
      <h2 id="gates">Gates</h2>
      <p className="muted">
        The launch’s address moves from the waiting list to the sales page and to the closed page by itself; the checkout takes nobody outside the
        doors. Rules here come first: the first one that covers a page decides. Offers and the thank-you page ask for an order instead.
      </p>
      {gates.map((gate, index) => (
        <div key={gate.id} className={styles.item}>
          <CoverageField
            label={`Rule ${index + 1} applies to`}
            value={gate.covers}
            pages={draft.pages}
            gatesOnly
            wrong={draft.wrong(`gates.${index}.covers`)}
            onChange={(coverage) => draft.set({ gates: changed(gates, index, { covers: coverage }) })}
          />
          <div className={styles.three}>
            {(Object.keys(phases) as Phase[]).map((phase) => (
              <AnswerField key={phase} draft={draft} gate={gate} index={index} phase={phase} />
            ))}
          </div>
          <button type="button" className={styles.remove} onClick={() => draft.set({ gates: without(gates, index) })}>
            Remove this rule
          </button>
        </div>
      ))}
      <p className={styles.actions}>
        <Button
          onClick={() =>
            draft.set({
              gates: [
                ...gates,
                {
                  id: freshId(gates, "gate"),
                  covers: { mode: "only", pages: [], folders: [] },
                  before: { to: "itself" },
                  during: { to: "itself" },
                  after: { to: "itself" },
                },
              ],
            })
          }
        >
          Add a rule
        </Button>
      </p>
    </section>
  );
};
