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

const known = { light: new Map<string, string>(), dark: new Map<string, string>() };

/** Reads colours of the theme for a canvas, which knows no CSS variables; each once, as reading them costs a layout. */
export function themeColour(mode: 'light' | 'dark'): (name: string) => string {
  return (name) => {
    const found = known[mode].get(name);
    if (found !== undefined) return found;
    const root = document.documentElement;
    const colour = getComputedStyle(root).getPropertyValue(`--mui-palette-${name}`).trim();
    // While a theme is being put on, its colours may not be there yet.
    if (root.hasAttribute(`data-${mode}`)) known[mode].set(name, colour);
    return colour;
  };
}
