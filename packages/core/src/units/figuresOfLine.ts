/**
 * The figures in a line of a pasted table; none where it is a remark, which begins with something else.
 *
 * Columns are parted by commas, semicolons, tabs or spaces; commas are decimal ones where something else parts the columns. What is no figure is NaN.
 */
export function figuresOfLine(line: string): number[] {
  const trimmed = line.trim();
  if (!/^[-+\d.]/.test(trimmed)) return [];
  // A comma is a decimal one where something else parts the columns.
  const isDecimalComma = /[;\t]|\d\s+[-+\d]/.test(trimmed) && /\d,\d/.test(trimmed) && !/,\s/.test(trimmed);
  const cells = isDecimalComma ? trimmed.replaceAll(',', '.').split(/[;\s]+/) : trimmed.split(/[,;\s]+/);
  return cells.filter((cell) => cell !== '').map(Number);
}
