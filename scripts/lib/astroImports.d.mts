export function forbiddenImports(file: string, source: string): string[];
