// What a mail server keeps: emails one behind the other in a file that only grows. Memory holds where each begins.
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, readSync, writeSync } from "node:fs";
import { dirname } from "node:path";

/** An email as it came in. */
export interface Email {
  id: string;
  messageId: string;
  from: string;
  to: string;
  received: string;
  /** How often the server has said yes to it. */
  copies: number;
}
interface Place {
  at: number;
  bytes: number;
}

export class Box {
  private readonly file: number;
  private end = 0;
  private readonly places = new Map<string, Place>();
  private readonly byMessageId = new Map<string, Email>();
  readonly emails: Email[] = [];
  /** Every yes that was said, repeats included. */
  accepted = 0;

  constructor(path: string) {
    mkdirSync(dirname(path), { recursive: true });
    const lines = existsSync(path) ? readFileSync(path) : Buffer.alloc(0);
    this.file = openSync(path, "a+");
    for (let at = 0; at < lines.length;) {
      const stop = lines.indexOf(10, at);
      // A line that was cut off by a crash was never said yes to.
      if (stop < 0) break;
      this.note(JSON.parse(lines.toString("utf8", at, stop)) as Email & { raw: string }, { at, bytes: stop - at });
      at = this.end = stop + 1;
    }
  }

  private note({ raw: _raw, ...email }: Email & { raw: string }, place: Place): void {
    this.accepted += 1;
    // As many mail servers do: an email that comes again under the same Message-ID is shown once. How often it came is counted.
    const known = email.messageId ? this.byMessageId.get(email.messageId) : undefined;
    if (known) return void (known.copies += 1);
    this.emails.push(email);
    this.places.set(email.id, place);
    if (email.messageId) this.byMessageId.set(email.messageId, email);
  }

  /** Takes an email: written down before the server says yes. */
  take(from: string, to: string, raw: Buffer): void {
    const head = raw.subarray(0, Math.max(0, raw.indexOf("\r\n\r\n"))).toString("latin1");
    const messageId = /^message-id:\s*(<[^>]+>)/im.exec(head)?.[1] ?? "";
    const email = { id: String(this.accepted + 1), messageId, from, to, received: new Date().toISOString(), copies: 1, raw: raw.toString("latin1") };
    const line = Buffer.from(`${JSON.stringify(email)}\n`);
    writeSync(this.file, line);
    this.note(email, { at: this.end, bytes: line.length - 1 });
    this.end += line.length;
  }

  /** An email's content, byte for byte. */
  rawOf({ id }: Pick<Email, "id">): Buffer {
    const { at, bytes } = this.places.get(id)!;
    const line = Buffer.alloc(bytes);
    readSync(this.file, line, 0, bytes, at);
    return Buffer.from((JSON.parse(line.toString("utf8")) as { raw: string }).raw, "latin1");
  }

  close(): void {
    closeSync(this.file);
  }
}
