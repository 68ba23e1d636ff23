import type { ButtonHTMLAttributes } from "react";
import styles from "./kit.module.css";

/** A button; `main` is the one that does what the screen is for. */
export const Button = ({ main = false, type = "button", ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { main?: boolean }) => (
  <button type={type} className={main ? `${styles.button} ${styles.main}` : styles.button} {...rest} />
);
