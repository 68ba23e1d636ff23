import { changeMedia, uploadMedia } from "../../../contract/pages";
import { useEffect, useRef, useState } from "react";
import { mediaHref, type Media } from "../../../core/pages";
import { Button } from "../../kit/Button";
import { Field } from "../../kit/fields/Field";
import kit from "../../kit/kit.module.css";
import { call, sendFile } from "../../kit/data/call";
import styles from "../editor/editor.module.css";

const takes: Record<Media["kind"], string> = {
  picture: "image/jpeg,image/png,image/webp,image/avif,image/gif",
  video: "video/mp4,video/webm",
  captions: ".vtt,text/vtt",
  file: "*/*",
};
const nouns: Record<Media["kind"], string> = { picture: "picture", video: "film", captions: "captions", file: "file" };

const sizeOf = (bytes: number) => (bytes > 1024 * 1024 ? `${(bytes / 1024 / 1024).toFixed(1)} MB` : `${Math.ceil(bytes / 1024)} KB`);
const small = (one: Media) => mediaHref(one, `${one.widths[0]}.webp`);

interface Props {
  label: string;
  kind: Media["kind"];
  value: string | null;
  all: Media[];
  wrong?: string;
  onChange: (id: string | null, media?: Media) => void;
  onMedia: (media: Media) => void;
}

/** What must stay in sight when the picture is cut: one of five by five places. */
const Focal = ({ one, onPick }: { one: Media; onPick: (focal: [number, number]) => void }) => (
  <div className={styles.focal} role="group" aria-label="Focal point: what stays in sight when the picture is cropped">
    <img src={small(one)} alt="" />
    {[0, 1, 2, 3, 4].flatMap((y) =>
      [0, 1, 2, 3, 4].map((x) => (
        <button
          key={`${x}-${y}`}
          type="button"
          aria-pressed={one.focal[0] === x && one.focal[1] === y}
          aria-label={`${["left", "left of the middle", "middle", "right of the middle", "right"][x]}, ${["top", "above the middle", "middle", "below the middle", "bottom"][y]}`}
          onClick={() => onPick([x, y])}
        />
      )),
    )}
  </div>
);

/** Chooses an upload or takes a new one. What is wrong with a file is said at the field. */
export const MediaField = ({ label, kind, value, all, wrong, onChange, onMedia }: Props) => {
  const [open, setOpen] = useState(false);
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<string>();
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    if (open) dialog.current?.showModal();
  }, [open]);
  const chosen = all.find(({ id }) => id === value);
  const fits = all.filter((one) => one.kind === kind);

  const take = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setRefused(undefined);
    const answer = await sendFile(uploadMedia, file, { request: { name: file.name } });
    if (!answer.ok) setRefused(answer.fields["file"] ?? answer.message);
    else {
      const taken = answer.value;
      onMedia(taken);
      if (taken.kind !== kind) setRefused(`This is a ${nouns[taken.kind]}; a ${nouns[kind]} is needed here.`);
      else {
        onChange(taken.id, taken);
        setOpen(false);
      }
    }
    setBusy(false);
  };
  const focus = async (focal: [number, number]) => {
    const answer = await call(changeMedia, { params: { id: chosen!.id }, request: { focal } });
    if (answer.ok) onMedia(answer.value);
  };
  return (
    <div className={kit.field}>
      <span className={kit.label}>{label}</span>
      <div className={styles.mediaLine}>
        {chosen?.kind === "picture" && <img src={small(chosen)} alt="" />}
        <p>
          {chosen ? `${chosen.name}, ${chosen.width ? `${chosen.width} × ${chosen.height}, ` : ""}${sizeOf(chosen.bytes)}` : `No ${nouns[kind]} yet.`}
        </p>
        <Button onClick={() => setOpen(true)}>{chosen ? "Replace" : "Choose"}</Button>
        {chosen && <Button onClick={() => onChange(null)}>Remove</Button>}
      </div>
      {wrong && (
        <p className={kit.wrong} role="alert">
          {wrong}
        </p>
      )}
      {chosen?.kind === "picture" && (
        <details className={styles.more}>
          <summary>Focal point</summary>
          <Focal one={chosen} onPick={(focal) => void focus(focal)} />
        </details>
      )}
      {open && (
        <dialog ref={dialog} className={styles.library} aria-label={`Choose a ${nouns[kind]}`} onClose={() => setOpen(false)}>
          <h2>Choose a {nouns[kind]}</h2>
          <Field
            label={`Upload a ${nouns[kind]}`}
            type="file"
            accept={takes[kind]}
            disabled={busy}
            wrong={refused}
            hint={
              busy
                ? "Uploading…"
                : kind === "picture"
                  ? "JPEG, PNG, WebP, AVIF or GIF, 15 MB at most. What the camera wrote into it is taken out."
                  : kind === "video"
                    ? "MP4 or WebM, 80 MB at most."
                    : "WebVTT."
            }
            onChange={(event) => void take(event.currentTarget.files?.[0])}
          />
          <ul>
            {fits.map((one) => (
              <li key={one.id}>
                <button
                  type="button"
                  aria-pressed={one.id === value}
                  onClick={() => {
                    onChange(one.id, one);
                    setOpen(false);
                  }}
                >
                  {one.kind === "picture" && <img src={small(one)} alt={one.alt} loading="lazy" />}
                  <span>{one.name}</span>
                </button>
              </li>
            ))}
          </ul>
          {fits.length === 0 && <p className="muted">Nothing here yet. What you upload stays, for every page.</p>}
          <p className={kit.dialogButtons}>
            <Button onClick={() => setOpen(false)}>Cancel</Button>
          </p>
        </dialog>
      )}
    </div>
  );
};
