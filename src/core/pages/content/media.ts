/** What a page needs to know of an uploaded picture or film to show it. */
export interface Media {
  id: string;
  kind: "picture" | "video" | "captions" | "file";
  name: string;
  /** Names its bytes: another file, another name, so it may be kept for ever. */
  hash: string;
  alt: string;
  width: number;
  height: number;
  /** Widths it was made in. */
  widths: number[];
  /** What must stay in sight when it is cut, in fifths from the left and from the top (0–4). */
  focal: [x: number, y: number];
  /** How its file ends. */
  extension: string;
  bytes: number;
}

/** The widths a picture is made in, never wider than itself. */
export const widthsFor = (width: number): number[] => {
  const steps = [480, 960, 1600].filter((step) => step < width);
  return [...steps, Math.min(width, 1920)];
};

/** The public address of one of its files. */
export const mediaHref = ({ hash }: Pick<Media, "hash">, file: string): string => `/media/${hash}-${file}`;
