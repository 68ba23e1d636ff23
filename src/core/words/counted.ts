/** `1 person`, `1,204 people`: how many there are of something, in words. */
export const counted = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString("en")} ${n === 1 ? one : many}`;
