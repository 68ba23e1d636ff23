import { useEffect, useMemo, useState, type ReactNode } from "react";
import type { EmailContent } from "../../../core/emails";
import type { Device } from "../../../core/pages";
import { compileEmail } from "../../../public/emails/compileEmail";
import type { EmailSetting } from "../../../public/emails/EmailDocument";
import { fillEmail, type EmailReader, type WrittenEmail } from "../../../public/emails/fillEmail";
import { ProofFrame, type Rect } from "../../pages/editor/ProofFrame";

interface Props {
  written: WrittenEmail | undefined;
  device: Device;
  onSelect: (id: string | undefined) => void;
  onRects: (rects: Map<string, Rect>) => void;
  children?: ReactNode;
}

const widths: Record<Device, number> = { desktop: 680, tablet: 680, phone: 390 };

// What is still empty shows where it will stand, and nothing in a proof is pressed but its blocks.
const proofStyle =
  "body{margin:0;overflow:hidden;cursor:default}a{pointer-events:none}[data-b]:empty,h1:empty,h2:empty{min-height:16px}h1:empty::before,h2:empty::before{content:'…';opacity:.4}img[alt]:not([src^=data]){min-height:8px}";

/** An email written for a reader as it is typed, by the very functions that write what is sent. */
export const useWrittenEmail = (content: EmailContent, setting: EmailSetting, reader: EmailReader): WrittenEmail | undefined => {
  const [written, setWritten] = useState<WrittenEmail>();
  useEffect(() => {
    let stale = false;
    void compileEmail(content, { ...setting, marked: true }).then((compiled) => {
      if (!stale) setWritten(fillEmail(compiled, reader));
    });
    return () => {
      stale = true;
    };
  }, [content, setting, reader]);
  return written;
};

/** The body of a written email, with the ground it stands on, as it is put into the frame of a proof. */
const bodyOf = (html: string): string => {
  const [, style = "", body = ""] = /<body[^>]*? style="([^"]*)"[^>]*>([\s\S]*)<\/body>/.exec(html) ?? [];
  return `<div style="${style}">${body}</div>`;
};

/** An email as a mail program of a width lays it out. */
export const EmailProof = ({ written, device, onSelect, onRects, children }: Props) => {
  const body = useMemo(() => (written ? bodyOf(written.html) : ""), [written]);
  return (
    <ProofFrame title="The email" src="/desk/email-proof" style={proofStyle} body={body} width={widths[device]} onSelect={onSelect} onRects={onRects}>
      {children}
    </ProofFrame>
  );
};
