'use client';

import { memo } from 'react';
import type { Clip } from '@/core/programme/model';
import type { ClipMeasurement } from '@/core/measuring/measureClip';
import type { Target } from '@/core/check/target';
import { clock, figure } from '@/core/text/figures';
import { clipLevel } from '@/core/check/clipLevel';
import { gainText, levelWords } from '../clipLevel';
import { waterlineY } from './clipHits';

interface Props {
  readonly clip: Clip;
  readonly measurement: ClipMeasurement | null;
  readonly missing: boolean;
  readonly target: Target;
  readonly trackName: string;
  /** Name of the outermost group it belongs to. */
  readonly groupName: string | null;
  readonly sampleRate: number;
  readonly laneHeight: number;
  readonly selected: boolean;
  readonly tabbable: boolean;
}

/**
 * One clip on its lane, for the keyboard and for those who hear the page: what is seen of it is drawn (`drawFace`), what is
 * dragged of it is found by its place (`clipUnder`).
 */
export const ClipBox = memo(function ClipBox(props: Props) {
  const { clip, measurement, missing, target, trackName, groupName, sampleRate } = props;
  const { laneHeight, selected, tabbable } = props;
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
      data-waterline={relative === null ? undefined : waterlineY(relative, laneHeight)}
      // Laid out by the lanes' scale: a zoom draws no clip again.
      style={{
        left: `calc(${clip.start / sampleRate} * var(--second))`,
        width: `max(2px, calc(${clip.length / sampleRate} * var(--second)))`,
        height: laneHeight - 1,
      }}
    />
  );
});
