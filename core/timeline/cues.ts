import { FINDING_NAMES } from '@/core/check/findings/finding';
import type { ProgrammeFinding } from '@/core/deliver/findingsReport';
import { placeText } from '@/core/programme/timeText';
import type { Project } from '@/core/programme/model';

/** A place or span of the programme with something to say about it. */
export interface Cue {
  /** Programme frames; the same twice for a place. */
  readonly from: number;
  readonly to: number;
  readonly name: string;
  readonly comment: string;
}

/** The markers of a programme, as far as they lie within it. */
export const cuesOfMarkers = ({ markers }: Project): readonly Cue[] =>
  markers.map(({ at, name }) => ({ from: at, to: at, name, comment: '' }));

/** What was found, where it lies. */
export const cuesOfFindings = (
  { sampleRate }: Pick<Project, 'sampleRate'>,
  findings: readonly ProgrammeFinding[],
): readonly Cue[] =>
  findings.map(({ kind, from, to, sentence, accepted, note }) => ({
    ...{ from: Math.round(from * sampleRate), to: Math.round(to * sampleRate), name: FINDING_NAMES[kind] },
    comment: accepted ? `${sentence} Accepted${note ? `: ${note}` : ''}.` : sentence,
  }));

const COLUMNS = ['from', 'to', 'fromSeconds', 'toSeconds', 'name', 'comment'];

/** Cues as a table, a row each after a row of headings: places as the project shows them, and in seconds from its start. */
export const cueTable = (
  project: Project,
  cues: readonly Cue[],
): readonly (readonly (string | number)[])[] => [
  COLUMNS,
  ...cues.map(({ from, to, name, comment }) => [
    ...[placeText(project, from, 3), placeText(project, to, 3)],
    ...[from / project.sampleRate, to / project.sampleRate, name, comment],
  ]),
];

/** How long a place is shown, seconds: a cue has to last. */
const SHOWN_SECONDS = 2;

const two = (value: number): string => String(value).padStart(2, '0');

function vttTime(seconds: number): string {
  const ms = Math.round(Math.max(0, seconds) * 1000);
  const whole = Math.floor(ms / 1000);
  return `${two(Math.floor(whole / 3600))}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}.${String(ms % 1000).padStart(3, '0')}`;
}

/** Text as it may stand in a cue: one line, and nothing that is taken for a tag. */
const vttText = (text: string): string =>
  text.replace(/\s+/g, ' ').replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');

/** Cues as WebVTT, times from the programme's start. Source: W3C WebVTT. */
export function cuesAsVtt({ sampleRate }: Pick<Project, 'sampleRate'>, cues: readonly Cue[]): string {
  const told = [...cues].sort((a, b) => a.from - b.from);
  const blocks = told.map(({ from, to, name, comment }, i) => {
    const [start, end] = [from / sampleRate, Math.max(to, from) / sampleRate];
    const shown = end > start ? end : start + SHOWN_SECONDS;
    return `${i + 1}\n${vttTime(start)} --> ${vttTime(shown)}\n${vttText(comment ? `${name}: ${comment}` : name)}\n`;
  });
  return ['WEBVTT\n', ...blocks].join('\n');
}
