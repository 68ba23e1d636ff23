import { say } from "../../kit/notices";
import { hrefOf } from "../../../contract/endpoint";
import * as pages from "../../../contract/pages";
import { useState } from "react";
import type { PageKind } from "../../../core/launch";
import { purposes, templateOf, templates, withNewIds, withoutVariant, type PageContent, type Purpose } from "../../../core/pages";
import { Button } from "../../kit/Button";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { call } from "../../kit/data/call";
import { newId } from "./editing";
import styles from "./editor.module.css";
import { TemplateSelect, type OwnTemplate } from "../TemplateSelect";

interface Props {
  page: { id: string; key: string; kind: PageKind };
  product: string;
  own: OwnTemplate[];
  launches: { slug: string; name: string }[];
  launch: string;
  /** Below its launch. */
  slug: string;
  /** What hangs on the page: while there is anything, it cannot be archived. */
  uses: { says: string; href: string }[];
  onReplace: (content: PageContent) => void;
}

/** What can be done with a page as a whole: begin it anew, keep it, copy it, show it to somebody. */
export const PageTools = ({ page, product, own, launches, launch, slug, uses, onReplace }: Props) => {
  const fits = templates.filter(({ kind }) => kind === page.kind);
  const [template, setTemplate] = useState(fits[0]?.id ?? "");
  const [name, setName] = useState("");
  const [purpose, setPurpose] = useState<Purpose>(fits[0]?.purpose ?? "sales");
  const [to, setTo] = useState({ launch, address: "" });
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [address, setAddress] = useState(slug);
  const [shared, setShared] = useState("");

  const begin = () => {
    const content = templateOf(template)?.make(product) ?? own.find(({ id }) => id === template)?.content;
    if (content) onReplace(withNewIds(content, newId));
  };
  const refused = (answer: { message: string; fields: Record<string, string> }) => {
    setWrong(answer.fields);
    if (Object.keys(answer.fields).length === 0) say(answer.message, true);
  };
  const keep = async () => {
    const answer = await call(pages.keepTemplate, { request: { page: page.id, name, purpose } });
    if (!answer.ok) return refused(answer);
    setWrong({});
    setName("");
    say(`“${answer.value.name}” is kept as a template for every launch.`);
  };
  const copy = async () => {
    const answer = await call(pages.copyPage, { params: { id: page.id }, request: to });
    if (answer.ok) location.assign(answer.value.address);
    else refused(answer);
  };
  const rename = async () => {
    const answer = await call(pages.changeAddress, { params: { id: page.id }, request: { address } });
    if (answer.ok) location.reload();
    else refused({ ...answer, fields: answer.fields["address"] ? { rename: answer.fields["address"] } : {} });
  };
  const archive = async () => {
    const answer = await call(pages.archivePage, { params: { id: page.id }, request: { archived: true } });
    if (answer.ok) location.assign(`/desk/${launch}/pages#archived`);
    else say(answer.message, true);
  };
  const share = async () => {
    const answer = await call(pages.sharePreview, { params: { id: page.id } });
    if (answer.ok) setShared(answer.value.address);
    else say(answer.message, true);
  };
  return (
    <>
      <details className={styles.tool}>
        <summary>Begin anew from a template</summary>
        <TemplateSelect label="Template" kind={page.kind} own={own} value={template} onChange={setTemplate} />
        <Button onClick={begin}>Replace this page with it</Button>
        <p className="muted">What stands here now stays in the history.</p>
      </details>
      <details className={styles.tool}>
        <summary>Keep as a template</summary>
        <Field label="Name of the template" value={name} wrong={wrong["name"]} onChange={(event) => setName(event.currentTarget.value)} />
        <Select
          label="It is for"
          value={purpose}
          options={purposes.map((one) => ({ value: one, label: one }))}
          onChange={(picked) => setPurpose(picked)}
        />
        <Button onClick={() => void keep()}>Keep it</Button>
      </details>
      <details className={styles.tool}>
        <summary>Copy to another place</summary>
        <Select
          label="Into the launch"
          value={to.launch}
          options={launches.map((one) => ({ value: one.slug, label: one.name }))}
          onChange={(picked) => setTo({ ...to, launch: picked })}
        />
        <Field
          label={`Address below /${to.launch}/`}
          value={to.address}
          wrong={wrong["address"] ?? wrong["template"]}
          onChange={(event) => setTo({ ...to, address: event.currentTarget.value })}
        />
        <Button onClick={() => void copy()}>Copy the page</Button>
        <p>
          <a href={hrefOf(pages.exportPage, { id: page.id })} download>
            Or save it as a file, with its pictures
          </a>
        </p>
      </details>
      {slug && withoutVariant(page.key) === page.key && (
        <details className={styles.tool}>
          <summary>Change its address</summary>
          <Field
            label={`Address below /${launch}/`}
            value={address}
            wrong={wrong["rename"]}
            onChange={(event) => setAddress(event.currentTarget.value)}
          />
          <Button onClick={() => void rename()}>Move the page</Button>
          <p className="muted">The old address leads on to the new one.</p>
        </details>
      )}
      {withoutVariant(page.key) === page.key && (
        <details className={styles.tool}>
          <summary>Archive it</summary>
          {uses.length > 0 ? (
            <>
              <p className="muted">It can be archived once nothing hangs on it:</p>
              <ul className={styles.uses}>
                {uses.map(({ says, href }) => (
                  <li key={says}>
                    <a href={href}>{says}</a>
                  </li>
                ))}
              </ul>
            </>
          ) : (
            <>
              <p className="muted">It leaves the launch and is not public any more. Under Pages it can be restored, with its history.</p>
              <Button onClick={() => void archive()}>Archive the page</Button>
            </>
          )}
        </details>
      )}
      <details className={styles.tool}>
        <summary>Show it to somebody</summary>
        <p className="muted">Whoever has the link sees the page as it stands here, for two weeks. They can send nothing from it.</p>
        {shared ? (
          <Field label="Private link" value={shared} readOnly onFocus={(event) => event.currentTarget.select()} />
        ) : (
          <Button onClick={() => void share()}>Make a private link</Button>
        )}
      </details>
    </>
  );
};
