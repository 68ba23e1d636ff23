// What a browser or a well-behaved program never sends: double and back slashes, dot segments, control characters, and
// percent-encodings of what stands for itself (RFC 3986 §6.2.2) or of a slash, a back slash or a percent sign.
const strange =
  /\/\/|\\|[\u0000-\u0020\u007f]|\/\.{1,2}(?:\/|$)|%(?![0-9a-f]{2})|%(?:0[0-9a-f]|1[0-9a-f]|2[05def]|3[0-9]|4[1-9a-f]|5[0-9acf]|6[1-9a-f]|7[0-9aef])/i;

const decodes = (path: string): boolean => {
  try {
    decodeURIComponent(path);
    return true;
  } catch {
    return false;
  }
};

/**
 * Whether a request's target (path and query, as it came over the wire) is written in normal form. Every other spelling
 * of an address is refused before anything compares or routes it, so that no two parts of the server read it differently.
 */
export const isNormalTarget = (target: string): boolean => {
  const at = target.indexOf("?");
  const path = at < 0 ? target : target.slice(0, at);
  if (!path.startsWith("/") || strange.test(path)) return false;
  if (at >= 0 && /%00|[\u0000-\u001f]/.test(target.slice(at))) return false;
  return !path.includes("%") || decodes(path);
};
