/** What is dragged over the lanes: a range of time over some tracks. */
export interface Band {
  /** Programme frames. */
  readonly from: number;
  readonly to: number;
  /** Client pixels. */
  readonly top: number;
  readonly bottom: number;
}

/** The band from where a drag began to where the pointer is. @param frame there */
export function bandBetween(
  start: { readonly y: number; readonly frame: number },
  { clientY }: { readonly clientY: number },
  frame: number,
): Band {
  return {
    from: Math.min(start.frame, frame),
    to: Math.max(start.frame, frame),
    top: Math.min(start.y, clientY),
    bottom: Math.max(start.y, clientY),
  };
}
