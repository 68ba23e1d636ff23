import { say } from "../notices";
import { useCallback, useState, type FormEvent } from "react";
import { useForm, type DefaultValues, type FieldValues, type Path, type PathValue, type UseFormRegisterReturn } from "react-hook-form";
import type { Answer } from "../data/call";
import { useKeptDraft } from "../data/useKeptDraft";

interface Asked<T extends FieldValues, A> {
  /** Keeps what is typed in this browser under a name, until it is made. */
  keep: string;
  fresh: DefaultValues<T> & T;
  /** What can be said to be wrong before the server is asked, by field. */
  check?: (values: T) => Record<string, string>;
  send: (values: T) => Promise<Answer<A>>;
  made: (answer: A, values: T) => void;
}

/**
 * A form that makes something by one press: every objection stands at its field in one round, the first one takes the focus, a second press
 * waits for the first, and what was typed is there again for who leaves and comes back.
 */
export const useMakeForm = <T extends FieldValues, A>({ keep, fresh, check, send, made }: Asked<T, A>) => {
  const [busy, setBusy] = useState(false);
  const form = useForm<T>({ defaultValues: fresh });
  const { register, reset, setError, setFocus, clearErrors, setValue, watch, formState } = form;
  const values = watch();
  const restore = useCallback(
    (left: unknown) => {
      if (typeof left !== "object" || left === null) return;
      reset({ ...fresh, ...left }, { keepDefaultValues: true });
      say("What you filled in here before is back.");
    },
    // What is fresh is a new object at each drawing, and the same: it is no reason to restore anew.
    [reset],
  );
  useKeptDraft(keep, 1, formState.isDirty && !busy ? values : undefined, restore);
  const refuse = (fields: Record<string, string>) => {
    for (const [at, message] of Object.entries(fields)) setError(at as Path<T>, { type: "rule", message });
    const [first] = Object.keys(fields);
    if (first) setFocus(first as Path<T>);
  };
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (busy) return;
    clearErrors();
    const wrong = check?.(values) ?? {};
    if (Object.keys(wrong).length > 0) return refuse(wrong);
    setBusy(true);
    const answer = await send(values);
    setBusy(false);
    if (answer.ok) {
      reset(fresh);
      return made(answer.value, values);
    }
    refuse(answer.fields);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
  };
  const wrong = (at: string): string | undefined => {
    const found: unknown = at.split(".").reduce<unknown>((part, name) => (part as Record<string, unknown> | undefined)?.[name], formState.errors);
    const message = (found as { message?: unknown } | undefined)?.message;
    return typeof message === "string" ? message : undefined;
  };
  const set = <N extends Path<T>>(name: N, value: PathValue<T, N>) => setValue(name, value, { shouldDirty: true });
  return {
    values,
    busy,
    submit,
    wrong,
    set,
    /** A field that is typed; `at` is what the server calls it, where that is another name. */
    text: (name: Path<T>, at: string = name): UseFormRegisterReturn & { wrong: string | undefined } => ({ ...register(name), wrong: wrong(at) }),
    /** A field that hands on its value. */
    choice: <N extends Path<T>>(name: N, at: string = name) => ({
      value: values[name] as PathValue<T, N>,
      wrong: wrong(at),
      onChange: (value: PathValue<T, N>) => set(name, value),
    }),
  };
};
