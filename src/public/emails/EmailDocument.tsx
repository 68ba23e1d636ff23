import { Body } from "@react-email/body";
import { Button } from "@react-email/button";
import { Container } from "@react-email/container";
import { Head } from "@react-email/head";
import { Heading } from "@react-email/heading";
import { Hr } from "@react-email/hr";
import { Html } from "@react-email/html";
import { Img } from "@react-email/img";
import { Link } from "@react-email/link";
import { Text } from "@react-email/text";
import { Fragment, type CSSProperties, type ReactNode } from "react";
import { wordsOfBlock, type EmailContent, type Signature } from "../../core/emails";
import {
  pageLeaves,
  paletteOf,
  type Block,
  type BlockOf,
  type Look,
  type Media,
  type Palette,
  type RichInline,
  type RichText,
} from "../../core/pages";
import type { Locale } from "../../core/money";
import { emailWords } from "../../core/words";
import { oneFile } from "../blocks/picture";
import { withFields, type EmailHole, type EmailHoles, type EmailPresence } from "./emailHoles";

/** What an email looks like and who sends it; the same for all its readers. */
export interface EmailSetting {
  look: Look;
  /** Stands at its head beside the vendor's name; empty leaves it out. */
  launch: string;
  vendor: Signature;
  media: (id: string | null) => Media | undefined;
  /** Where pictures lie, `https://shop.example`. */
  origin: string;
  /** Whether its reader can stop it, and is told so. */
  advertising: boolean;
  locale: Locale;
  /** Names each block in the document, for the editor. */
  marked?: boolean;
}

interface Props extends EmailSetting {
  content: EmailContent;
  book: EmailHoles;
}

// Mail programs know no types of the page: each pair stands for the nearest that every machine has.
const faces = {
  bill: { title: "Rockwell, 'Roboto Slab', Georgia, serif", text: "Archivo, Helvetica, Arial, sans-serif" },
  book: { title: "Georgia, 'Times New Roman', serif", text: "Georgia, 'Times New Roman', serif" },
  signboard: { title: "Archivo, Helvetica, Arial, sans-serif", text: "Archivo, Helvetica, Arial, sans-serif" },
} as const;
const sizes = { small: 14, normal: 16, large: 19 } as const;
const spaces = { none: 0, small: 8, normal: 18, large: 32 } as const;

/** A program that darkens mails by itself makes worse of it than a dark list of the same colours. */
const darkStyle = (look: Look): string => {
  const { paper, sunk, ink, ink2, hair, accentText } = paletteOf({ ...look, theme: "lantern" });
  return `@media (prefers-color-scheme:dark){.e-ground{background-color:${sunk}!important}.e-paper{background-color:${paper}!important}.e-ink,.e-ink a{color:${ink}!important}.e-soft,.e-soft a{color:${ink2}!important}.e-link{color:${accentText}!important}.e-rule{border-color:${hair}!important}}`;
};

/** Rows of one column: what every mail program lays out alike. */
const Rows = ({ children, ...rest }: { children: ReactNode; className?: string; style?: CSSProperties; "data-skip-in-text"?: boolean }) => (
  <table role="presentation" width="100%" cellPadding={0} cellSpacing={0} border={0} {...rest}>
    <tbody>{children}</tbody>
  </table>
);
/** All but the last of a row of paragraphs stand apart from the next. */
const apart = (index: number, of: readonly unknown[]): string => (index < of.length - 1 ? "0 0 14px" : "0");

/** Draws blocks of the page editor for one column of a mail program. */
class Drawing {
  private readonly palette: Palette;
  constructor(private readonly props: Props) {
    this.palette = paletteOf(props.look);
  }

  words = (text: string): string => withFields(text, this.props.book);
  hole = (hole: EmailHole): string => this.props.book.mark(hole).text;
  /** Something that is there for some readers only. */
  where = (has: EmailPresence, inside: ReactNode): ReactNode => (
    <>
      {this.hole({ is: "begin", has })}
      {inside}
      {this.hole({ is: "end" })}
    </>
  );

  get text(): CSSProperties {
    return { fontFamily: faces[this.props.look.type].text, fontSize: 16, lineHeight: "1.5", color: this.palette.ink, margin: 0 };
  }
  get title(): CSSProperties {
    return { fontFamily: faces[this.props.look.type].title, color: this.palette.ink, margin: 0, lineHeight: "1.15" };
  }

  inline = (parts: readonly RichInline[] = []): ReactNode =>
    parts.map((part, index) => {
      if (part.type === "hardBreak") return <br key={index} />;
      return (part.marks ?? []).reduce<ReactNode>(
        (inner, mark) => {
          if (mark.type === "bold") return <strong key={index}>{inner}</strong>;
          if (mark.type === "italic") return <em key={index}>{inner}</em>;
          return (
            <Link
              key={index}
              href={this.hole({ is: "href", to: { to: "outside", url: mark.attrs.href }, on: "words" })}
              className="e-link"
              style={{ color: this.palette.accentText, textDecoration: "underline" }}
            >
              {inner}
            </Link>
          );
        },
        <Fragment key={index}>{this.words(part.text)}</Fragment>,
      );
    });

  rich = (rich: RichText, plain: CSSProperties): ReactNode =>
    rich.content.map((node, index, all) => {
      const style = { ...plain, margin: apart(index, all) };
      if (node.type === "paragraph")
        return (
          <Text key={index} className="e-ink" style={style}>
            {this.inline(node.content)}
          </Text>
        );
      if (node.type === "heading")
        return (
          <Heading key={index} as="h3" className="e-ink" style={{ ...this.title, fontSize: 19, margin: style.margin }}>
            {this.inline(node.content)}
          </Heading>
        );
      if (node.type === "blockquote")
        return (
          <blockquote
            key={index}
            className="e-rule"
            style={{ margin: style.margin, padding: "0 0 0 14px", borderLeft: `3px solid ${this.palette.hair}` }}
          >
            {node.content.map(({ content }, n) => (
              <Text key={n} className="e-ink" style={{ ...style, margin: 0 }}>
                {this.inline(content)}
              </Text>
            ))}
          </blockquote>
        );
      const List = node.type === "bulletList" ? "ul" : "ol";
      return (
        <List key={index} className="e-ink" style={{ ...style, padding: "0 0 0 24px" }}>
          {node.content.map(({ content }, n) => (
            <li key={n} style={{ margin: "0 0 6px" }}>
              {content.map((one, m) => (
                <Fragment key={m}>
                  {m > 0 && <br />}
                  {this.inline(one.content)}
                </Fragment>
              ))}
            </li>
          ))}
        </List>
      );
    });

  button = (label: string, href: string, main: boolean): ReactNode => {
    const { accent, onAccent, accentText } = this.palette;
    return main ? (
      <Button href={href} style={{ ...this.face, backgroundColor: accent, color: onAccent, padding: "13px 22px", fontWeight: 700, borderRadius: 3 }}>
        {this.words(label)}
      </Button>
    ) : (
      <Link href={href} className="e-link" style={{ ...this.face, color: accentText, textDecoration: "underline" }}>
        {this.words(label)}
      </Link>
    );
  };
  get face(): CSSProperties {
    return { fontFamily: faces[this.props.look.type].text, fontSize: 16 };
  }
  soft = (text: string): ReactNode =>
    text ? (
      <Text className="e-soft" style={{ ...this.text, fontSize: 13, color: this.palette.ink3, margin: "6px 0 0" }}>
        {this.words(text)}
      </Text>
    ) : null;

  picture = ({ media: id, alt, decorative, caption }: BlockOf<"picture">): ReactNode => {
    const media = this.props.media(id);
    if (!media) return null;
    return (
      <>
        <Img
          src={`${this.props.origin}${oneFile(media, "jpg")}`}
          alt={decorative ? "" : this.words(alt)}
          width={544}
          height={Math.round((544 * media.height) / media.width)}
          style={{ maxWidth: "100%", height: "auto" }}
        />
        {this.soft(caption)}
      </>
    );
  };

  countdown = (): ReactNode =>
    this.where(
      "countdown",
      <>
        <Img
          src={this.hole({ is: "countdown", part: "src" })}
          alt={this.hole({ is: "countdown", part: "says" })}
          width={480}
          height={120}
          data-skip-in-text={true}
          style={{ maxWidth: "100%", height: "auto" }}
        />
        <Text className="e-soft" style={{ ...this.text, fontSize: 14, color: this.palette.ink2, margin: "6px 0 0" }}>
          {this.hole({ is: "countdown", part: "says" })}.
        </Text>
      </>,
    );

  block = (block: Block): ReactNode => {
    switch (block.type) {
      case "headline":
        return (
          <Heading
            as={block.level === "title" ? "h1" : "h2"}
            className="e-ink"
            style={{ ...this.title, fontSize: { title: 29, heading: 22, small: 18 }[block.level], textAlign: block.centred ? "center" : "left" }}
          >
            {this.words(block.text)}
          </Heading>
        );
      case "text":
        return this.rich(block.rich, { ...this.text, fontSize: sizes[block.size] });
      case "button": {
        const inside = (
          <>
            {this.button(block.label, this.hole({ is: "href", to: block.target, on: "button" }), block.look === "main")}
            {this.soft(block.note)}
          </>
        );
        return block.target.to === "library" ? this.where("library", inside) : inside;
      }
      case "price":
        return (
          <>
            <Text className="e-ink" style={{ ...this.title, fontSize: 24, margin: "0 0 4px" }}>
              {this.words("{price}")}
            </Text>
            {block.words && this.soft(block.words)}
            <div style={{ marginTop: 10 }}>{this.button(block.button, this.hole({ is: "href", to: block.target, on: "button" }), true)}</div>
          </>
        );
      case "countdown":
        return this.countdown();
      case "picture":
        return this.picture(block);
      case "benefits":
        return (
          <ul className="e-ink" style={{ ...this.text, padding: "0 0 0 24px" }}>
            {block.items.map((item, index) => (
              <li key={index} style={{ margin: "0 0 6px" }}>
                {this.words(item)}
              </li>
            ))}
          </ul>
        );
      case "testimonial":
        return (
          <blockquote className="e-rule" style={{ margin: 0, padding: "0 0 0 14px", borderLeft: `3px solid ${this.palette.hair}` }}>
            <Text className="e-ink" style={{ ...this.text, fontStyle: "italic", margin: "0 0 6px" }}>
              {this.words(block.quote)}
            </Text>
            {this.soft([block.name, block.role].filter(Boolean).join(", "))}
          </blockquote>
        );
      case "download": {
        const media = this.props.media(block.media);
        if (media) return this.button(block.label, `${this.props.origin}/media/${media.hash}-file.${media.extension}`, false);
        return this.where(
          "gift",
          <Text className="e-ink" style={this.text}>
            {this.button(block.label, this.hole({ is: "gift", part: "href" }), false)} ({this.hole({ is: "gift", part: "name" })})
          </Text>,
        );
      }
      case "partner":
        return this.where(
          "partner",
          <Text className="e-ink" style={{ ...this.text, margin: 0 }}>
            {this.words(block.words)} <strong>{this.hole({ is: "partner", part: "name" })}</strong>
            <br />
            {this.hole({ is: "partner", part: "note" })}
          </Text>,
        );
      case "receipt":
        return this.hole({ is: "receipt" });
      case "rule":
        return (
          <Hr
            className="e-rule"
            style={{
              border: 0,
              borderTop: `${{ hair: 1, thick: 3, double: 4 }[block.look]}px ${block.look === "double" ? "double" : "solid"} ${this.palette.ink}`,
              margin: 0,
            }}
          />
        );
      default:
        return null;
    }
  };

  head = (): ReactNode => {
    const { launch, vendor } = this.props;
    const cell: CSSProperties = { ...this.face, fontSize: 13, color: this.palette.ink, padding: "10px 0 8px" };
    return (
      <Rows
        data-skip-in-text
        className="e-rule"
        style={{ borderTop: `3px solid ${this.palette.ink}`, borderBottom: `1px solid ${this.palette.ink}`, margin: "0 0 24px" }}
      >
        <tr>
          <td className="e-ink" style={{ ...cell, fontWeight: 700 }}>
            {vendor.name}
          </td>
          <td className="e-ink" align="right" style={cell}>
            {launch}
          </td>
        </tr>
      </Rows>
    );
  };

  foot = (): ReactNode => {
    const { advertising, vendor, locale } = this.props;
    const { footer, unsubscribe } = emailWords(locale);
    const style: CSSProperties = { ...this.text, fontSize: 13, color: this.palette.ink3, margin: "0 0 6px" };
    const address = [vendor.name, ...vendor.postalAddress.split("\n")].map((line) => line.trim()).filter(Boolean);
    return (
      <Rows className="e-rule" style={{ borderTop: `1px solid ${this.palette.hair}`, margin: "28px 0 0" }}>
        <tr>
          <td style={{ padding: "14px 0 0" }}>
            {advertising && (
              <Text className="e-soft" style={style}>
                {footer(vendor.name)}{" "}
                <Link href={this.hole({ is: "unsubscribe" })} className="e-soft" style={{ color: this.palette.ink3, textDecoration: "underline" }}>
                  {unsubscribe}
                </Link>
              </Text>
            )}
            {advertising &&
              this.where(
                "opened",
                <img src={this.hole({ is: "opened" })} width={1} height={1} alt="" data-skip-in-text style={{ display: "block" }} />,
              )}
            <Text className="e-soft" style={style}>
              {address.map((line, index) => (
                <Fragment key={index}>
                  {index > 0 && <br />}
                  {line}
                </Fragment>
              ))}
            </Text>
          </td>
        </tr>
      </Rows>
    );
  };

  grounds = (ground: EmailContent["sections"][number]["ground"]): string => {
    const { paper, sunk } = this.palette;
    return ground === "paper" ? paper : sunk;
  };

  document = (): ReactNode => {
    const { content, look, locale, marked } = this.props;
    const firstWords = pageLeaves(content)
      .filter(({ type }) => type === "text")
      .flatMap(wordsOfBlock)
      .flatMap((words) => words.split("\n"))
      .filter((words) => words.trim());
    // Lists of messages show what comes first: the first sentence, not the greeting.
    const preheader = content.preheader || (firstWords[1] ?? firstWords[0] ?? "");
    const dark = look.theme === "lantern";
    return (
      <Html lang={locale.slice(0, 2)}>
        <Head>
          <meta name="viewport" content="width=device-width,initial-scale=1" />
          <meta name="color-scheme" content={dark ? "dark" : "light dark"} />
          <meta name="supported-color-schemes" content={dark ? "dark" : "light dark"} />
          <title>{this.words(content.subject)}</title>
          {!dark && <style>{darkStyle(look)}</style>}
        </Head>
        <Body className="e-ground" style={{ margin: 0, backgroundColor: this.palette.sunk }}>
          <div style={{ display: "none", overflow: "hidden", lineHeight: "1px", opacity: 0, maxHeight: 0, maxWidth: 0 }} data-skip-in-text={true}>
            {this.words(preheader)}
          </div>
          <Container className="e-paper" style={{ maxWidth: 600, backgroundColor: this.palette.paper, margin: "0 auto" }}>
            <Rows>
              <tr>
                <td style={{ padding: "24px 28px" }}>
                  {this.head()}
                  {content.sections.map(({ id, blocks, ground }) => (
                    <Rows key={id} className={ground === "paper" ? "e-paper" : "e-ground"} style={{ backgroundColor: this.grounds(ground) }}>
                      {blocks.map((block, index) => (
                        <tr key={block.id}>
                          <td
                            {...(marked ? { "data-b": block.id } : {})}
                            style={{ padding: `${index === 0 ? 0 : spaces[block.space]}px ${ground === "paper" ? 0 : 14}px 0` }}
                          >
                            {this.block(block)}
                          </td>
                        </tr>
                      ))}
                    </Rows>
                  ))}
                  {this.foot()}
                </td>
              </tr>
            </Rows>
          </Container>
        </Body>
      </Html>
    );
  };
}

/** An email as a document that mail programs hold: tables, inline styles, one column, a list of dark colours. */
export const EmailDocument = (props: Props): ReactNode => new Drawing(props).document();
