import { contrast, paletteOf, themeNames, themes, typeNames, typePairs, type Look, type Media } from "../../../core/pages";
import { Field } from "../../kit/fields/Field";
import { Select } from "../../kit/fields/Select";
import { MediaField } from "./MediaField";
import styles from "../editor/editor.module.css";

interface Props {
  look: Look;
  media: Media[];
  wrong?: Record<string, string>;
  onChange: (look: Look) => void;
  onMedia: (media: Media) => void;
}

/** A theme, two colours, a pair of types and a logo; beside them how well what comes of it can be read. */
export const LookFields = ({ look, media, wrong = {}, onChange, onMedia }: Props) => {
  const whole = /^#[0-9a-f]{6}$/i.test(look.accent) && /^#[0-9a-f]{6}$/i.test(look.second);
  const palette = whole ? paletteOf(look) : undefined;
  const ratio = (a: string, b: string) => `${contrast(a as never, b as never).toFixed(1)}:1`;
  const bent = palette && palette.accent.toUpperCase() !== look.accent.toUpperCase();
  return (
    <>
      <fieldset className={styles.themes}>
        <legend>Theme</legend>
        {themes.map((theme) => (
          <label key={theme}>
            <input type="radio" name="theme" value={theme} checked={look.theme === theme} onChange={() => onChange({ ...look, theme })} />
            <span>
              <b>{themeNames[theme].name}</b> {themeNames[theme].says}
            </span>
          </label>
        ))}
      </fieldset>
      <div className={styles.colours}>
        {(["accent", "second"] as const).map((name) => (
          <div key={name}>
            <Field
              label={name === "accent" ? "Colour of buttons" : "Second colour"}
              value={look[name]}
              wrong={wrong[name]}
              maxLength={7}
              onChange={(event) => onChange({ ...look, [name]: event.currentTarget.value as Look["accent"] })}
            />
            <input
              type="color"
              aria-label={name === "accent" ? "Pick the colour of buttons" : "Pick the second colour"}
              value={/^#[0-9a-f]{6}$/i.test(look[name]) ? look[name].toLowerCase() : "#000000"}
              onChange={(event) => onChange({ ...look, [name]: event.currentTarget.value.toUpperCase() as Look["accent"] })}
            />
          </div>
        ))}
      </div>
      {palette && (
        <p className={styles.true}>
          Contrast {ratio(palette.onAccent, palette.accent)} on buttons, {ratio(palette.onSecond, palette.second)} on the second colour; at least
          4.5:1 is needed.
          {bent && ` Your colour was changed to ${palette.accent}, so that buttons stand out from the page.`}
        </p>
      )}
      <Select
        label="Typefaces"
        value={look.type}
        options={typePairs.map((pair) => ({ value: pair, label: typeNames[pair] }))}
        onChange={(picked) => onChange({ ...look, type: picked })}
      />
      <MediaField label="Logo" kind="picture" value={look.logo} all={media} onChange={(logo) => onChange({ ...look, logo })} onMedia={onMedia} />
    </>
  );
};
