/** Sizes a canvas for the screen's resolution, clears it, and gives a context in CSS pixels. */
export function freshContext(
  canvas: HTMLCanvasElement,
  width: number,
  height: number,
): CanvasRenderingContext2D | null {
  const ratio = window.devicePixelRatio || 1;
  const w = Math.round(width * ratio);
  const h = Math.round(height * ratio);
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w;
    canvas.height = h;
  }
  const context = canvas.getContext('2d');
  context?.setTransform(ratio, 0, 0, ratio, 0, 0);
  context?.clearRect(0, 0, width, height);
  return context;
}

/** Reads colours of the theme for a canvas, which knows no CSS variables. */
export function themeColour(element: Element): (name: string) => string {
  const style = getComputedStyle(element);
  const known = new Map<string, string>();
  return (name) => {
    const found = known.get(name) ?? style.getPropertyValue(`--mui-palette-${name}`).trim();
    known.set(name, found);
    return found;
  };
}
