import { Button, ComboBox, FieldError, Group, Input, Label, ListBox, ListBoxItem, Popover, Text } from "react-aria-components";
import { useReady } from "../data/useReady";
import kit from "../kit.module.css";
import { Waiting } from "./DateTimeField";
import styles from "./Combobox.module.css";

interface Props {
  label: string;
  value: string;
  /** What is offered while it is typed; anything else may be typed too, and is judged by `wrong`. */
  options: readonly string[];
  hint?: string | undefined;
  wrong?: string | undefined;
  onChange: (value: string) => void;
}

// A list is read as far as its first entries; typing on narrows it.
const most = 80;

/** A text that is typed with a long list to choose from: the list shows what contains the letters so far. */
export const Combobox = ({ label, value, options, hint, wrong, onChange }: Props) => {
  if (!useReady()) return <Waiting label={label} />;
  const typed = value.toLowerCase();
  const fitting = options.includes(value) ? options : options.filter((one) => one.toLowerCase().includes(typed));
  const shown = options.includes(value) ? [value, ...options.filter((one) => one !== value)] : fitting;
  return (
    <ComboBox
      className={kit.field}
      allowsCustomValue
      isInvalid={wrong !== undefined}
      inputValue={value}
      onInputChange={onChange}
      items={shown.slice(0, most).map((id) => ({ id }))}
      menuTrigger="input"
    >
      <Label className={kit.label}>{label}</Label>
      <Group className={styles.group}>
        <Input className={styles.input} />
        <Button className={styles.open}>List</Button>
      </Group>
      {wrong ? (
        <FieldError className={kit.wrong}>{wrong}</FieldError>
      ) : (
        hint && (
          <Text slot="description" className={kit.hint} elementType="p">
            {hint}
          </Text>
        )
      )}
      <Popover className={styles.popover}>
        <ListBox className={styles.list}>
          {({ id }: { id: string }) => (
            <ListBoxItem id={id} textValue={id} className={styles.option}>
              {id}
            </ListBoxItem>
          )}
        </ListBox>
      </Popover>
    </ComboBox>
  );
};
