import type { ButtonHTMLAttributes } from "react";
import styles from "./kit.module.css";

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** It does what the screen is for. */
  main?: boolean;
  /** It throws something away. */
  destructive?: boolean;
}

export const Button = ({ main = false, destructive = false, type = "button", ...rest }: Props) => (
  <button type={type} className={[styles.button, main && styles.main, destructive && styles.destructive].filter(Boolean).join(" ")} {...rest} />
);
