import { useSyncExternalStore } from 'react';

type Measuring = Pick<CanvasRenderingContext2D, 'font' | 'measureText'>;

/** Widths of characters, pixels, by font: measuring whole texts anew at every step of a zoom would cost more than drawing them. */
const widths = new Map<string, Map<string, number>>();

function widthsOf(font: string): Map<string, number> {
  const known = widths.get(font) ?? new Map<string, number>();
  widths.set(font, known);
  return known;
}

const charWidth = (context: Measuring, known: Map<string, number>, char: string): number => {
  const found = known.get(char) ?? context.measureText(char).width;
  known.set(char, found);
  return found;
};

/** How wide a text is in the context's font, pixels; pairs of letters that move together are not looked at. */
export function textWidth(context: Measuring, text: string): number {
  const known = widthsOf(context.font);
  let width = 0;
  for (const char of text) width += charWidth(context, known, char);
  return width;
}

/** A text, or as much of its beginning as fits, ending in “…” where there is room for that. @param room pixels */
export function fittedText(context: Measuring, text: string, room: number): string {
  const known = widthsOf(context.font);
  const dots = charWidth(context, known, '…');
  let width = 0;
  let [at, fits, bare] = [0, 0, 0];
  for (const char of text) {
    width += charWidth(context, known, char);
    at += char.length;
    if (width + dots <= room) fits = at;
    if (width > room) return fits === 0 ? text.slice(0, bare) : `${text.slice(0, fits).trimEnd()}…`;
    bare = at;
  }
  return text;
}

let loaded = 0;

/** Counts what was loaded: until then canvases draw with another font, and nobody draws them again. */
function subscribe(onChange: () => void): () => void {
  const onLoaded = (): void => {
    widths.clear();
    loaded++;
    onChange();
  };
  document.fonts.addEventListener('loadingdone', onLoaded);
  return () => document.fonts.removeEventListener('loadingdone', onLoaded);
}

/** Another number once fonts have been loaded: a canvas with text is to be drawn again. */
export const useFonts = (): number =>
  useSyncExternalStore(
    subscribe,
    () => loaded,
    () => 0,
  );
