import Papa from 'papaparse';

/** Rows as comma-separated values. Text that a spreadsheet would work out as a formula is made plain text by an apostrophe. @see RFC 4180; OWASP, "CSV Injection" */
export const csvText = (rows: readonly (readonly (string | number)[])[]): string =>
  `${Papa.unparse(rows as (string | number)[][], { escapeFormulae: true, newline: '\r\n' })}\r\n`;
