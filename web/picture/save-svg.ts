import { download } from '../parts/download.ts';

/** What of the page's style a picture takes along when it leaves the page. */
const kept = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'font-family',
  'font-size',
  'font-weight',
  'opacity',
  'paint-order',
  'text-anchor',
  'color',
];

/** Saves a drawing as a file of its own: its colours and letters stand in it. */
export function saveSvg(svg: SVGSVGElement | null, siteName: string): void {
  if (!svg) return;
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const originals = [svg, ...svg.querySelectorAll('*')];
  const copies = [copy, ...copy.querySelectorAll('*')];
  originals.forEach((element, index) => {
    const style = getComputedStyle(element);
    const target = copies[index]!;
    for (const key of kept) target.setAttribute(key, style.getPropertyValue(key));
    for (const name of ['class', 'tabindex', 'role', 'data-node']) target.removeAttribute(name);
  });
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  const { width, height } = svg.viewBox.baseVal;
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  const text = new XMLSerializer().serializeToString(copy);
  download(`${siteName || 'site'}-picture.svg`, [text], 'image/svg+xml');
}
