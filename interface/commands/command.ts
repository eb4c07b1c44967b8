import type { StageName } from '../shell/stageNames';
import type { Id } from '@/core/programme/model';
import type { StageActions } from '../session/stageActions';
import type { Session } from '../session/session';

/** Where commands are listed. */
export const COMMAND_GROUPS = [
  'Listen',
  'Go to',
  'Gain',
  'Clips',
  'Select',
  'Tracks',
  'View',
  'Handover',
  'Project',
] as const;
type CommandGroup = (typeof COMMAND_GROUPS)[number];

/** What a command is done to. */
export interface CommandPlace {
  readonly session: Session;
  /** The stage on screen; `null` where there is none that lends a hand. */
  readonly stage: StageActions | null;
  /** The clips it is meant for: those selected, else the one that has the focus. */
  readonly ids: ReadonlySet<Id>;
  /** The clip that has the focus. */
  readonly focused: Id | null;
  /** Goes to a stage of the project, or to all projects. */
  readonly go: (to: StageName | 'projects') => void;
}

/** One thing that can be done from the palette, and by key where it has one. */
export interface Command {
  readonly id: string;
  readonly group: CommandGroup;
  readonly name: string;
  /** Such as `Ctrl+Shift+z`, `?`, `ArrowUp`. */
  readonly keys: readonly string[];
  /** Its keys are for a clip: heard while one has the focus, or some are selected, or points of a curve. */
  readonly onClip?: true;
  /** What there must be for it. */
  readonly needs:
    'nothing' | 'sheet' | 'stage' | 'clips' | 'selected' | 'selected or points' | 'range' | 'part';
  /** What else has to hold for it. */
  readonly can?: (place: CommandPlace) => boolean;
  readonly run: (place: CommandPlace) => void;
}

const NAMES: Readonly<Record<string, string>> = {
  ArrowUp: '↑',
  ArrowDown: '↓',
  ArrowLeft: '←',
  ArrowRight: '→',
  PageUp: 'Page up',
  PageDown: 'Page down',
  Escape: 'Esc',
};

/** A key for people: “Ctrl Shift Z”. */
export function keyText(key: string): string {
  // The plus sign itself is a key.
  const parts = key.split(/\+(?=.)/);
  return parts.map((part) => NAMES[part] ?? (part.length === 1 ? part.toUpperCase() : part)).join(' ');
}

/** Whether there is what a command needs. */
export function canRun({ needs, onClip, can }: Command, place: CommandPlace): boolean {
  const { session, stage, ids, focused } = place;
  if (can && !can(place)) return false;
  const { points, range } = session.state;
  if (onClip && focused === null && ids.size === 0 && !points) return false;
  if (needs === 'nothing') return true;
  if (!stage) return false;
  if (needs === 'sheet') return stage.closeSheet !== null;
  if (needs === 'clips') return session.project.clips.length > 0;
  if (needs === 'selected') return ids.size > 0;
  if (needs === 'selected or points') return ids.size > 0 || points !== null;
  if (needs === 'part') return ids.size > 0 && range !== null;
  return needs === 'stage' || range !== null;
}
