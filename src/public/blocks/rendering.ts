import type { Block, Media } from "../../core/pages";
import type { Html, HoleBook } from "../html";

/** What writing the blocks of a page needs beside the blocks. */
export interface Rendering {
  book: HoleBook;
  media: (id: string | null) => Media | undefined;
  /** The page's key, by which what is watched on it is told. */
  page: string;
  /** Where frames of the vendor's own HTML are answered. */
  frameHref: (block: string) => string;
  /** The first picture is seen at once; the later ones load when they are near. */
  firstPicture: { pending: boolean };
  /** How many columns share the width, for the sizes of pictures. */
  columns: number;
  narrow: boolean;
  /** What stands for a block that has nothing to show yet; the public sees nothing there. */
  instead?: (block: Block) => Html;
}
