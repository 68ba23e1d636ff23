export const percent = (share: number): string => `${(100 * share).toFixed(share > 0 && share < 0.1 ? 1 : 0)} %`;
