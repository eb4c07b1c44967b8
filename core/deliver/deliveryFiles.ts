import { programmeLayout } from '@/core/audio/layout';
import type { Delivery, FileKind } from '@/core/programme/delivery';
import { isStems } from '@/core/programme/delivery';
import { programmeFrames, ROLES, type Clip, type Id, type Project } from '@/core/programme/model';
import { audibleClips } from '@/core/signal/audible';
import { nameBy, patternFault } from './fileNames';
import { formatFault } from './fileKinds';

/** One file to be handed over. */
export interface DeliveryFile {
  /** Of the delivery it belongs to, and which of its files it is. */
  readonly key: string;
  readonly delivery: Delivery;
  /** With its ending. */
  readonly name: string;
  /** Which part of the mix it is, for people; `null`: the whole programme. */
  readonly part: string | null;
  /** The clips it is made of; `null`: all. */
  readonly clipIds: ReadonlySet<Id> | null;
  /** Programme frames, handles included. */
  readonly from: number;
  readonly to: number;
}

const ENDINGS: Readonly<Record<FileKind, string>> = {
  ...{ wav: 'wav', bwf: 'wav', rf64: 'wav', bw64: 'wav', aiff: 'aiff', flac: 'flac', mp3: 'mp3' },
  ...{ opus: 'opus', mov: 'mov', mp4: 'mp4', mkv: 'mka' },
};

/** The ending of a file's name, without its point. */
const endingOf = ({ format }: Delivery): string =>
  format.kind === 'aiff' && format.depth === 'f32' ? 'aifc' : ENDINGS[format.kind];

/** A part of the mix that becomes a file of its own. */
interface Part {
  readonly key: string;
  readonly clipIds: ReadonlySet<Id> | null;
  readonly role?: string;
  readonly track?: string;
}

const idsOf = (clips: readonly Clip[]): ReadonlySet<Id> => new Set(clips.map(({ id }) => id));

/** The parts of the mix, each with what sounds in it; one in which nothing does is left out. */
function partsOf(project: Project, { what }: Delivery): readonly Part[] {
  const heard = audibleClips(project);
  const roleOf = new Map(project.tracks.map(({ id, role }) => [id, role]));
  switch (what.kind) {
    case 'programme':
      return [{ key: '', clipIds: null }];
    case 'roles':
      return ROLES.flatMap((role) => {
        const clips = heard.filter(({ trackId }) => roleOf.get(trackId) === role);
        return clips.length === 0 ? [] : [{ key: role, clipIds: idsOf(clips), role }];
      });
    case 'tracks':
      return project.tracks.flatMap(({ id, name, role }) => {
        const clips = heard.filter(({ trackId }) => trackId === id);
        const wanted = what.trackIds.length === 0 || what.trackIds.includes(id);
        return clips.length === 0 || !wanted ? [] : [{ key: id, clipIds: idsOf(clips), track: name, role }];
      });
    case 'without': {
      const clips = heard.filter(({ trackId }) => !what.roles.includes(roleOf.get(trackId)!));
      const role = `without ${what.roles.join(' and ')}`;
      return clips.length === 0 ? [] : [{ key: 'without', clipIds: idsOf(clips), role }];
    }
    case 'clips': {
      const clips = heard.filter(({ id }) => what.clipIds.includes(id));
      const track = clips.length === 1 ? clips[0]!.name : 'clips';
      return clips.length === 0 ? [] : [{ key: 'clips', clipIds: idsOf(clips), track }];
    }
  }
}

/** A span of the programme that becomes a file of its own. */
interface Span {
  readonly key: string;
  readonly from: number;
  readonly to: number;
  readonly marker?: string;
}

function spansOf(project: Project, { range, handleSeconds }: Delivery): readonly Span[] {
  const end = programmeFrames(project);
  const handle = Math.round(handleSeconds * project.sampleRate);
  const around = (span: Span): Span => ({ ...span, from: span.from - handle, to: span.to + handle });
  if (range.kind === 'all') return end === 0 ? [] : [{ key: '', from: 0, to: end }];
  if (range.kind === 'range') return [around({ key: '', from: range.from, to: range.to })];
  const marks = project.markers.filter(({ at }) => at >= 0 && at < end);
  return marks.flatMap(({ id, at, name }, i) => {
    const to = marks[i + 1]?.at ?? end;
    return to > at ? [around({ key: id, from: at, to, marker: name })] : [];
  });
}

const partName = ({ role, track }: Part, { marker }: Span): string | null =>
  [track ?? role, marker].filter(Boolean).join(', ') || null;

/** What is wrong with a delivery as it stands, a sentence; `null` when nothing is. */
export function deliveryFault(project: Project, delivery: Delivery): string | null {
  const named = patternFault(delivery.pattern) ?? formatFault(project, delivery);
  if (named) return named;
  if (programmeFrames(project) === 0)
    return 'There is nothing to render yet: place clips in Programme first.';
  const { range } = delivery;
  if (range.kind === 'range' && range.from >= programmeFrames(project))
    return 'The range lies behind the end of the programme.';
  if (spansOf(project, delivery).length === 0)
    return 'There are no markers in the programme to render between.';
  return partsOf(project, delivery).length === 0 ? 'None of what it asks for sounds in the programme.' : null;
}

/** The files that a delivery comes to, named. @param date as “2026-01-31” */
export function filesOf(project: Project, delivery: Delivery, date: string): readonly DeliveryFile[] {
  if (deliveryFault(project, delivery)) return [];
  const parts = partsOf(project, delivery);
  const spans = spansOf(project, delivery);
  const rate = delivery.sampleRate ?? project.sampleRate;
  const files = parts.flatMap((part) => spans.map((span) => ({ part, span })));
  return files.map(({ part, span }, i) => {
    const name = nameBy(delivery.pattern, {
      project: project.name,
      target: delivery.target?.name,
      role: part.role,
      track: part.track,
      marker: span.marker,
      number: String(i + 1).padStart(String(files.length).length, '0'),
      language: delivery.texts.language,
      date,
      version: `v${delivery.version}`,
      layout: programmeLayout(delivery.layoutId ?? project.layoutId).name,
      rate: `${rate / 1000} kHz`,
    });
    return {
      ...{ key: `${delivery.id}/${part.key}/${span.key}`, delivery, name: `${name}.${endingOf(delivery)}` },
      ...{ part: partName(part, span), clipIds: part.clipIds, from: span.from, to: span.to },
    };
  });
}

/** Names that more than one of these files would have, without regard to capitals. */
export function sameNames(files: readonly DeliveryFile[]): readonly string[] {
  const seen = new Map<string, number>();
  for (const { name } of files) seen.set(name.toLowerCase(), (seen.get(name.toLowerCase()) ?? 0) + 1);
  return [...new Set(files.map(({ name }) => name))].filter((name) => seen.get(name.toLowerCase())! > 1);
}

/** Whether a file may be corrected by itself, rather than moved along with the programme. */
export const correctsItself = ({ delivery }: DeliveryFile): boolean =>
  delivery.target !== null && delivery.correction !== 'none' && !isStems(delivery);
