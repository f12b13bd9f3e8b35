/** What a spreadsheet takes for a formula when it begins a cell. @see OWASP, "CSV Injection" */
const FORMULA = /^[=+\-@\t\r]/;

/** Rows as comma-separated values, with CRLF. Text that a spreadsheet would work out as a formula is made plain text by an apostrophe. @see RFC 4180 */
export const csvText = (rows: readonly (readonly (string | number)[])[]): string =>
  `${rows.map((row) => row.map(cell).join(',')).join('\r\n')}\r\n`;

function cell(value: string | number): string {
  if (typeof value === 'number') return String(value);
  const text = FORMULA.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}
