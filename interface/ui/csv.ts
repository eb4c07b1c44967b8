import papa from 'papaparse';

/** A table as the text of a CSV file; what a spreadsheet would take for a formula stays text. */
export const csvOf = (rows: readonly (readonly (string | number | boolean | null)[])[]): string =>
  `${papa.unparse(rows as unknown[][], { escapeFormulae: true })}\n`;
