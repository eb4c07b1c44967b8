import type { AudioMetadata, StatedLoudness } from '@/core/audio/metadata';
import type { LoudnessFigures } from '@/core/loudness/figures';

/** What a file says of itself, as much of it as is of use to an editor. */
export interface FileSays {
  /** Labels and texts: description, originator, scene, take … */
  readonly texts: readonly (readonly [label: string, text: string])[];
  /** Loudness figures that it states (bext version 2); `null` when it states none. */
  readonly loudness: StatedLoudness | null;
  /** Markers in it (cue points). */
  readonly markers: number;
}

/** Longer texts are cut off, letters. */
const MOST_LETTERS = 300;

/** Fields of an iXML document that are shown. Source: iXML specification, version 3. */
const IXML_FIELDS = [
  ['PROJECT', 'Project'],
  ['SCENE', 'Scene'],
  ['TAKE', 'Take'],
  ['TAPE', 'Tape'],
  ['NOTE', 'Note'],
] as const;

const ENTITIES: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', apos: "'" };

const plain = (text: string): string =>
  text
    .replace(/&(amp|lt|gt|quot|apos);/g, (_, name: string) => ENTITIES[name]!)
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, MOST_LETTERS);

/** The text of the first element of a name in an iXML document; flat elements are all that is looked for. */
function elementText(ixml: string, name: string): string {
  const open = ixml.indexOf(`<${name}>`);
  const close = open < 0 ? -1 : ixml.indexOf(`</${name}>`, open);
  const text = close < 0 ? '' : ixml.slice(open + name.length + 2, close);
  return text.includes('<') ? '' : plain(text);
}

/** @returns `null` when it says nothing */
export function fileSays(metadata: AudioMetadata | null): FileSays | null {
  if (!metadata) return null;
  const { description, originator, originated, codingHistory, loudness, markers, ixml } = metadata;
  const texts = [
    ['Description', description],
    ['Originator', originator],
    ['Originated', originated],
    ['Coding history', codingHistory],
    ...IXML_FIELDS.map(([name, label]) => [label, ixml === null ? null : elementText(ixml, name)] as const),
  ] as const;
  const found = texts.flatMap(([label, text]) => {
    const shown = plain(text ?? '');
    return shown === '' ? [] : [[label, shown] as const];
  });
  const stated = loudness && Object.values(loudness).some((value) => value !== null) ? loudness : null;
  return found.length > 0 || stated || markers.length > 0
    ? { texts: found, loudness: stated, markers: markers.length }
    : null;
}

/** A figure that a file states, beside ours. */
export interface StatedFigure {
  readonly name: string;
  readonly unit: 'LUFS' | 'LU' | 'dBTP';
  readonly stated: number;
  readonly measured: number | null;
  /** They are further apart than rounding and another meter's true peak explain. */
  readonly disagrees: boolean;
}

/** Loudness figures are stated to a hundredth; two meters that both keep to the standards agree within so much, LU. */
const SAME_LU = 0.15;
/** True-peak meters may read this far apart (ITU-R BS.1770-5, Annex 2: under-read of 4 times oversampling), dB. */
const SAME_DB = 0.7;

/** The figures that a file states of its loudness, each beside the measured one. */
export function statedFigures({ loudness }: FileSays, figures: LoudnessFigures): StatedFigure[] {
  if (!loudness) return [];
  const one = (
    name: string,
    unit: StatedFigure['unit'],
    stated: number | null,
    measured: number | null,
  ): StatedFigure[] =>
    stated === null
      ? []
      : [
          {
            ...{ name, unit, stated, measured },
            disagrees:
              measured === null || Math.abs(stated - measured) > (unit === 'dBTP' ? SAME_DB : SAME_LU),
          },
        ];
  return [
    ...one('Integrated', 'LUFS', loudness.integratedLufs, figures.integratedLufs),
    ...one('Loudness range', 'LU', loudness.loudnessRangeLu, figures.loudnessRangeLu),
    ...one('True peak', 'dBTP', loudness.maxTruePeakDbtp, figures.truePeakDbtp),
    ...one('Max momentary', 'LUFS', loudness.maxMomentaryLufs, figures.maxMomentaryLufs),
    ...one('Max short-term', 'LUFS', loudness.maxShortTermLufs, figures.maxShortTermLufs),
  ];
}
