/** Text as a page may hold it: nobody's name is markup. */
export const escapeText = (value: string): string =>
  value.replace(/[&<>"']/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[sign]!);
