import { Select } from "../kit/fields/Select";
import styles from "./BellStrip.module.css";

interface Props {
  launches: { slug: string; name: string }[];
  current?: string;
  room: string;
}

/** Goes to the same room of another launch. */
export const LaunchSwitcher = ({ launches, current, room }: Props) => (
  <div className={styles.switcher}>
    <Select
      label="Launch"
      hideLabel
      value={current ?? ""}
      options={[...(current ? [] : [{ value: "", label: "Choose a launch" }]), ...launches.map(({ slug, name }) => ({ value: slug, label: name }))]}
      onChange={(picked) => picked && location.assign(`/desk/${picked}/${room}`)}
    />
  </div>
);
