const collator = new Intl.Collator('en', { numeric: true });

/** Orders texts as people count, so that “take-10” comes after “take-2”. @returns as `Array.sort` asks for */
export const naturalOrder = (a: string, b: string): number => collator.compare(a, b);
