import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from 'react';
import type { Id } from '@/core/programme/model';
import { useElementSize } from '../../ui/useElementSize';
import { useViewSettings } from '../viewSettings';
import {
  bigLaneHeight,
  laneHeightFor,
  MAX_PIXELS_PER_SECOND,
  MIN_PIXELS_PER_SECOND,
  RULER_HEIGHT,
} from './laneScale';
import { laneRows, type LaneRow } from './laneRows';

/** Room for the button under the lanes. */
const ADD_TRACK_HEIGHT = 44;
/** Left free on both sides of what is shown as large as it fits, CSS pixels. */
const SHOW_MARGIN = 24;

/** Which range of the programme the lanes show. */
export interface LaneView {
  /** The element that scrolls. */
  readonly scroller: RefObject<HTMLDivElement | null>;
  /** Takes up the element that scrolls, which comes and goes with the lanes. */
  readonly attach: (element: HTMLDivElement | null) => void;
  /** What is scrolled, once it is there. */
  readonly scrollElement: HTMLDivElement | null;
  readonly pixelsPerSecond: number;
  readonly scrollLeft: number;
  readonly scrollTop: number;
  /** Height of what is seen of the lanes, the ruler above them included, CSS pixels. */
  readonly height: number;
  /** Width of the lanes without the track heads, CSS pixels. */
  readonly width: number;
  /** Width of the track heads, CSS pixels. */
  readonly headWidth: number;
  /** Where each lane lies, in the order of the tracks. */
  readonly rows: readonly LaneRow[];
  /** Changes the zoom by a factor; what is at `anchor` (pixels from the lanes' left edge) stays there. */
  readonly zoom: (factor: number, anchor?: number) => void;
  readonly fit: () => void;
  /** Shows a time range as large as it fits. */
  readonly show: (fromSeconds: number, toSeconds: number) => void;
  /** Brings a time range into view if it is not. */
  readonly reveal: (fromSeconds: number, toSeconds: number) => void;
}

/** Scroll and zoom of the lanes' scroller; fits the whole programme until somebody zooms. */
export function useLaneView(totalSeconds: number, trackIds: readonly Id[]): LaneView {
  const lanes = trackIds.length;
  const scroller = useRef<HTMLDivElement>(null);
  const [attached, setAttached] = useState<HTMLDivElement | null>(null);
  const attach = useCallback((element: HTMLDivElement | null) => {
    scroller.current = element;
    if (element) setAttached(element);
  }, []);
  const { width: outer, height } = useElementSize(scroller, attached);
  const look = useViewSettings();
  const room = height - RULER_HEIGHT - ADD_TRACK_HEIGHT;
  const laneHeight = look.big ? bigLaneHeight(room, lanes) : laneHeightFor(room, lanes, look.height);
  const { headWidth, laneHeights } = look;
  const rows = useMemo(
    () => laneRows(trackIds, laneHeight, laneHeights),
    [trackIds, laneHeight, laneHeights],
  );
  const width = Math.max(0, outer - headWidth);
  const [chosen, setChosen] = useState<number | null>(null);
  const [scrollLeft, setScrollLeft] = useState(0);
  const [scrollTop, setScrollTop] = useState(0);
  const wantedScroll = useRef<number | null>(null);
  const fitting = Math.max(MIN_PIXELS_PER_SECOND, (width - 12) / Math.max(10, totalSeconds));
  const pixelsPerSecond = chosen ?? fitting;

  /** Where the lanes were when they were seen last. */
  const place = useRef({ left: 0, top: 0 });
  useEffect(() => {
    if (!attached) return;
    attached.scrollTo(place.current);
    const onScroll = (): void => {
      place.current = { left: attached.scrollLeft, top: attached.scrollTop };
      setScrollLeft(attached.scrollLeft);
      setScrollTop(attached.scrollTop);
    };
    attached.addEventListener('scroll', onScroll, { passive: true });
    return () => attached.removeEventListener('scroll', onScroll);
  }, [attached]);

  // The new zoom must be laid out before the scroller can be moved to its new place.
  useLayoutEffect(() => {
    if (wantedScroll.current === null || !scroller.current) return;
    scroller.current.scrollLeft = wantedScroll.current;
    wantedScroll.current = null;
  }, [pixelsPerSecond]);

  const zoom = useCallback(
    (factor: number, anchor = width / 2) => {
      const next = Math.max(
        Math.min(MIN_PIXELS_PER_SECOND, fitting),
        Math.min(MAX_PIXELS_PER_SECOND, pixelsPerSecond * factor),
      );
      const left = scroller.current?.scrollLeft ?? 0;
      const wanted = Math.max(0, ((left + anchor) / pixelsPerSecond) * next - anchor);
      wantedScroll.current = wanted;
      // Known at once, so that the new zoom is drawn once and not again for its scroll.
      setScrollLeft(next <= fitting ? 0 : wanted);
      setChosen(next <= fitting ? null : next);
    },
    [width, fitting, pixelsPerSecond],
  );
  const fit = useCallback(() => setChosen(null), []);
  const show = useCallback(
    (from: number, to: number) => {
      const most = Math.max(fitting, (width - 2 * SHOW_MARGIN) / Math.max(0.05, to - from));
      const next = Math.min(MAX_PIXELS_PER_SECOND, most);
      wantedScroll.current = Math.max(0, from * next - SHOW_MARGIN);
      // The same zoom as before is laid out already.
      if (next === pixelsPerSecond && scroller.current) scroller.current.scrollLeft = wantedScroll.current;
      setChosen(next);
    },
    [width, fitting, pixelsPerSecond],
  );
  const reveal = useCallback(
    (from: number, to: number) => {
      const element = scroller.current;
      if (!element) return;
      const left = from * pixelsPerSecond;
      const right = to * pixelsPerSecond;
      if (left < element.scrollLeft || Math.min(right, left + 80) > element.scrollLeft + width)
        element.scrollLeft = Math.max(0, left - 40);
    },
    [pixelsPerSecond, width],
  );

  useEffect(() => {
    if (!attached) return;
    const onWheel = (event: WheelEvent): void => {
      if (!event.ctrlKey && !event.metaKey) return;
      event.preventDefault();
      zoom(Math.exp(-event.deltaY / 250), event.clientX - attached.getBoundingClientRect().left - headWidth);
    };
    attached.addEventListener('wheel', onWheel, { passive: false });
    return () => attached.removeEventListener('wheel', onWheel);
  }, [attached, zoom, headWidth]);

  return useMemo(
    () => ({
      ...{ scroller, attach, scrollElement: attached, pixelsPerSecond, scrollLeft, scrollTop },
      ...{ height, width, headWidth, rows },
      ...{ zoom, fit, show, reveal },
    }),
    [
      attach,
      attached,
      pixelsPerSecond,
      scrollLeft,
      scrollTop,
      height,
      width,
      headWidth,
      rows,
      zoom,
      fit,
      show,
      reveal,
    ],
  );
}
