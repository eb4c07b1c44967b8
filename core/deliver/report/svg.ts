import { INKS, type Drawing, type Shape } from './drawing';

const n = (value: number): string => value.toFixed(1);

/** Text as it may stand in a page. */
export const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (char) => `&#${char.charCodeAt(0)};`);

function shapeSvg(shape: Shape): string {
  switch (shape.kind) {
    case 'box':
      return `<rect x="${n(shape.x)}" y="${n(shape.y)}" width="${n(shape.width)}" height="${n(shape.height)}" fill="${INKS[shape.ink]}"/>`;
    case 'line': {
      const [[x1, y1], [x2, y2]] = [shape.from, shape.to];
      const dash = shape.dash ? ` stroke-dasharray="${shape.dash.join(' ')}"` : '';
      return `<line x1="${n(x1)}" x2="${n(x2)}" y1="${n(y1)}" y2="${n(y2)}" stroke="${INKS[shape.ink]}"${dash}/>`;
    }
    case 'path': {
      const d = shape.runs
        .map((run) => run.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${n(x)} ${n(y)}`).join(''))
        .join('');
      return `<path d="${d}" fill="none" stroke="${INKS[shape.ink]}" stroke-width="1.4"/>`;
    }
    case 'words':
      return `<text x="${n(shape.at[0])}" y="${n(shape.at[1])}" text-anchor="${shape.anchor}" font-size="11">${escaped(shape.text)}</text>`;
  }
}

/** A picture as SVG. */
export const drawingSvg = ({ label, width, height, shapes }: Drawing): string =>
  [
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="100%" role="img" aria-label="${escaped(label)}">`,
    ...shapes.map(shapeSvg),
    '</svg>',
  ].join('');
