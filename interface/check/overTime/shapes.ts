/** A colour by its name in the theme. */
export type Colour = string;

/** Something drawn, in CSS pixels of its panel: onto a canvas, or into a file. */
export type Shape =
  | {
      readonly kind: 'rect';
      readonly x: number;
      readonly y: number;
      readonly width: number;
      readonly height: number;
      readonly colour: Colour;
    }
  | {
      readonly kind: 'line';
      /** NaN parts it. */
      readonly points: readonly (readonly [x: number, y: number])[];
      readonly colour: Colour;
      readonly width: number;
      readonly dash?: readonly number[];
    }
  | {
      readonly kind: 'text';
      readonly x: number;
      readonly y: number;
      readonly text: string;
      readonly colour: Colour;
    };

const FONT = '10px "Inter Variable", sans-serif';

/** Draws shapes on a canvas. @param colour of a name */
export function paintCanvas(
  context: CanvasRenderingContext2D,
  shapes: readonly Shape[],
  colour: (name: Colour) => string,
): void {
  context.font = FONT;
  for (const shape of shapes) {
    if (shape.kind === 'rect') {
      context.fillStyle = colour(shape.colour);
      context.fillRect(shape.x, shape.y, shape.width, shape.height);
    } else if (shape.kind === 'text') {
      // A halo keeps the words legible where they lie over something.
      context.strokeStyle = colour('background-default');
      context.lineWidth = 3;
      context.strokeText(shape.text, shape.x, shape.y);
      context.fillStyle = colour(shape.colour);
      context.fillText(shape.text, shape.x, shape.y);
    } else {
      context.strokeStyle = colour(shape.colour);
      context.lineWidth = shape.width;
      context.setLineDash([...(shape.dash ?? [])]);
      context.beginPath();
      let drawing = false;
      for (const [x, y] of shape.points) {
        if (Number.isNaN(y)) drawing = false;
        else if (drawing) context.lineTo(x, y);
        else {
          context.moveTo(x, y);
          drawing = true;
        }
      }
      context.stroke();
      context.setLineDash([]);
    }
  }
}

const escaped = (text: string): string =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');

const short = (value: number): string => String(Math.round(value * 100) / 100);

function svgOf(shape: Shape, colour: (name: Colour) => string): string {
  const fill = `fill="${escaped(colour(shape.colour))}"`;
  if (shape.kind === 'rect')
    return `<rect x="${short(shape.x)}" y="${short(shape.y)}" width="${short(shape.width)}" height="${short(shape.height)}" ${fill}/>`;
  if (shape.kind === 'text')
    return `<text x="${short(shape.x)}" y="${short(shape.y)}" font-family="Inter, sans-serif" font-size="10" ${fill}>${escaped(shape.text)}</text>`;
  let path = '';
  let drawing = false;
  for (const [x, y] of shape.points) {
    if (Number.isNaN(y)) drawing = false;
    else {
      path += `${drawing ? 'L' : 'M'}${short(x)} ${short(y)}`;
      drawing = true;
    }
  }
  const dash = shape.dash ? ` stroke-dasharray="${shape.dash.join(' ')}"` : '';
  return `<path d="${path}" fill="none" stroke="${escaped(colour(shape.colour))}" stroke-width="${shape.width}"${dash}/>`;
}

/** Panels under each other as the text of an SVG file. */
export function svgFile(
  panels: readonly { readonly shapes: readonly Shape[]; readonly height: number }[],
  width: number,
  colour: (name: Colour) => string,
): string {
  const total = panels.reduce((sum, { height }) => sum + height, 0);
  let y = 0;
  const groups = panels.map(({ shapes, height }) => {
    const group = `<g transform="translate(0 ${y})">${shapes.map((shape) => svgOf(shape, colour)).join('')}</g>`;
    y += height;
    return group;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${total}" viewBox="0 0 ${width} ${total}"><rect width="${width}" height="${total}" fill="${escaped(colour('background-default'))}"/>${groups.join('')}</svg>\n`;
}
