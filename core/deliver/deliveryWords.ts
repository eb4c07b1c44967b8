import { programmeLayout } from '@/core/audio/layout';
import type { Correction, Delivered, Delivery } from '@/core/programme/delivery';
import type { Project } from '@/core/programme/model';
import { placeText } from '@/core/programme/timeText';
import { count } from '@/core/text/words';
import { formatWords } from './fileKinds';

const CORRECTIONS: Readonly<Record<Correction, string | null>> = {
  none: null,
  gain: 'corrected by gain',
  limiter: 'corrected by gain and limiter',
};

/** What of the programme, in words. */
export function whatWords({ tracks }: Pick<Project, 'tracks'>, what: Delivered): string {
  switch (what.kind) {
    case 'programme':
      return 'The programme';
    case 'roles':
      return 'A stem for each role';
    case 'tracks': {
      const named = tracks.filter(({ id }) => what.trackIds.includes(id)).map(({ name }) => name);
      return named.length === 0 ? 'A stem for each track' : `A stem each of ${named.join(', ')}`;
    }
    case 'without':
      return `All but ${what.roles.join(' and ')}`;
    case 'clips':
      return `${count(what.clipIds.length, 'clip')} alone`;
  }
}

/** A delivery in one line. */
export function deliveryWords(project: Project, delivery: Delivery): string {
  const { range, layoutId, sampleRate, handleSeconds } = delivery;
  return [
    whatWords(project, delivery.what),
    range.kind === 'range'
      ? `${placeText(project, range.from, 1)} to ${placeText(project, range.to, 1)}`
      : range.kind === 'markers'
        ? 'marker to marker'
        : null,
    range.kind !== 'all' && handleSeconds > 0 ? `handles of ${handleSeconds} s` : null,
    layoutId === null ? null : programmeLayout(layoutId).name,
    sampleRate === null ? null : `${sampleRate / 1000} kHz`,
    formatWords(delivery.format),
    delivery.target && CORRECTIONS[delivery.correction],
  ]
    .filter(Boolean)
    .join(' · ');
}
