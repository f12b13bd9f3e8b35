/** The drawing as a file of its own: the theme's colours written out as they are by daylight, so that it prints and opens anywhere. */
export function svgText(svg: SVGSVGElement): string {
  const sample = document.createElement('div');
  sample.dataset.theme = 'daylight';
  document.body.append(sample);
  const style = getComputedStyle(sample);
  const copy = svg.cloneNode(true) as SVGSVGElement;
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.removeAttribute('class');
  const [, , width, height] = (copy.getAttribute('viewBox') ?? '0 0 0 0').split(' ');
  copy.setAttribute('width', width ?? '');
  copy.setAttribute('height', height ?? '');
  const text = new XMLSerializer()
    .serializeToString(copy)
    .replaceAll(/var\((--[a-z0-9-]+)\)/g, (_, name: string) => style.getPropertyValue(name).trim());
  sample.remove();
  return `<?xml version="1.0" encoding="UTF-8"?>\n${text}\n`;
}
