export { decode8, decodeF32, decodeF64, decodeS16, decodeS24, decodeS32, swapBytes } from './decode';
export { encodeF32, encodeS16, encodeS24 } from './encode';
export { mix } from './mix';
export { blockPeaks, nearPeaks } from './near';
export { peaks } from './peaks';
export { resample } from './resample';
export { extremes, sharpestOf, sums } from './scan';
export { weigh, weighBoth } from './weigh';

/** First free byte of the memory; everything from there on is laid out by the caller. */
export function heapBase(): usize {
  return __heap_base;
}
