import type { FindingKind } from './finding';

/** What would mend a finding that no gain can mend. */
export const REMEDIES: Readonly<Partial<Record<FindingKind, string>>> = {
  integrity: 'No gain makes it whole: export or copy the file again, or declare what it does not say.',
  click: 'It comes with the recording: no fade at an edge takes it away; have it restored, or cut it out.',
  clipped: 'No gain brings back what was cut off: take another recording, or have it restored.',
  dropout: 'No gain fills a hole: take another recording, or cut round it.',
  silence: 'No gain fills silence: lay ambience there, or take it out.',
  dc: 'No gain takes an offset away: filter the source below 20 Hz.',
  phase: 'No gain turns a side round: invert one channel of the source.',
  channel: 'No gain puts a channel right: check how the channels of the source are laid.',
  mono: 'No gain makes it stereo: take the stereo version.',
  head: 'Move all clips so that it begins where it should.',
  tail: 'Trim the last clip, or let it ring on.',
  format: 'Render it again in the form that is asked for.',
};
