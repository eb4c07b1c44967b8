'use client';

import { memo } from 'react';
import type { Clip } from '@/core/programme/model';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { Target } from '@/core/check/target';
import { clock, figure, signed } from '@/core/text/figures';
import { markPath, STANDING_COLOUR } from '../../ui/LevelMark';
import { clipLevel, type ClipLevel } from '@/core/check/clipLevel';
import { gainText, levelWords } from '../clipLevel';
import { bodyHeight, LANE_BOTTOM_LU, LANE_TOP_LU, NAME_STRIP, yOf } from './laneScale';

/** Lanes lower than this have no room for a figure beside the waterline. */
const LEAST_TEXT = 64;

interface Props {
  readonly clip: Clip;
  readonly measurement: ClipMeasurement | null;
  readonly missing: boolean;
  readonly target: Target;
  readonly trackName: string;
  /** Name of the outermost group it belongs to. */
  readonly groupName: string | null;
  readonly sampleRate: number;
  readonly left: number;
  readonly width: number;
  readonly laneHeight: number;
  readonly selected: boolean;
  readonly tabbable: boolean;
}

/** The clip's own loudness on the lane's scale: the line that one drags. */
function Waterline({
  clipId,
  level,
  width,
  laneHeight,
}: {
  clipId: string;
  level: ClipLevel & { readonly relative: number };
  width: number;
  laneHeight: number;
}) {
  const { relative, standing, lufs } = level;
  const y = NAME_STRIP + yOf(relative, bodyHeight(laneHeight));
  const top = Math.min(laneHeight - 15, y - 7);
  const colour = STANDING_COLOUR[standing];
  const beyond = relative > LANE_TOP_LU ? ', far over' : relative < LANE_BOTTOM_LU ? ', far under' : '';
  return (
    <div data-waterline={clipId} className="waterline" style={{ top }}>
      <div className="waterline-line" style={{ top: y - top - 1, backgroundColor: colour }} />
      <svg
        width={14}
        height={14}
        aria-hidden
        style={{ position: 'absolute', left: Math.min(5, width / 2 - 7), top: 0 }}
      >
        <circle cx={7} cy={7} r={6.5} fill="var(--mui-palette-background-paper)" />
        <path d={markPath(standing, 7, 7, 9)} fill={colour} />
      </svg>
      {width > 150 && laneHeight >= LEAST_TEXT && (
        <div
          className="waterline-text"
          style={{ top: y > laneHeight - 20 ? -12 : y < NAME_STRIP + 16 ? 10 : 9 }}
        >
          {`${figure(lufs)} LUFS (${signed(relative)} LU${beyond})`}
        </div>
      )}
    </div>
  );
}

/** The end of a fade at a clip's corner: what one drags. @param at pixels from its side */
const FadeHandle = ({ side, at }: { side: 'in' | 'out'; at: number }) => (
  <div
    aria-hidden
    className="clip-fade"
    data-fade={side}
    style={{ [side === 'in' ? 'left' : 'right']: Math.max(6, at - 5) }}
  />
);

/** One clip on its lane; the gestures on it are handled by the lanes, its looks are rules of theirs (`clipStyles`). */
export const ClipBox = memo(function ClipBox(props: Props) {
  const { clip, measurement, missing, target, trackName, groupName, sampleRate } = props;
  const { left, width, laneHeight, selected, tabbable } = props;
  const level = clipLevel(measurement, clip.gain.db, target);
  const { relative } = level;
  const label = [
    clip.name,
    trackName,
    ...(groupName === null ? [] : [`in group ${groupName}`]),
    `at ${clock(clip.start / sampleRate)}`,
    `${clock(clip.length / sampleRate)} long`,
    `gain ${gainText(clip.gain.db)}`,
    missing ? 'its sound is missing' : measurement ? levelWords(level) : 'being measured',
    ...(level.overCeiling ? [`true peak ${figure(level.truePeakDbtp)} dBTP, over the ceiling`] : []),
  ].join(', ');
  return (
    <div
      role="option"
      id={`clip-${clip.id}`}
      className="clip"
      aria-selected={selected}
      aria-label={label}
      tabIndex={tabbable ? 0 : -1}
      data-clip={clip.id}
      data-name={clip.name}
      data-lufs={level.lufs ?? ''}
      data-gain={clip.gain.db}
      style={{ left, width: Math.max(2, width), height: laneHeight - 1 }}
    >
      <div className="clip-strip">
        <span className="clip-name">
          {groupName !== null && `[${groupName}] `}
          {clip.name}
        </span>
        {clip.gain.db !== 0 && width > 110 && <span>{gainText(clip.gain.db)}</span>}
      </div>
      {width > 28 && (
        <>
          <div aria-hidden className="clip-edge" data-edge="start" />
          <div aria-hidden className="clip-edge" data-edge="end" />
        </>
      )}
      {width > 60 && (
        <>
          <FadeHandle side="in" at={(clip.fadeIn / clip.length) * width} />
          <FadeHandle side="out" at={(clip.fadeOut / clip.length) * width} />
        </>
      )}
      {relative === null ? (
        <div className="clip-note">
          {missing ? 'sound missing' : measurement ? 'no loudness' : 'measuring …'}
        </div>
      ) : (
        <Waterline clipId={clip.id} level={{ ...level, relative }} width={width} laneHeight={laneHeight} />
      )}
    </div>
  );
});
