import { pasteClips, removeAndClose, splitClips, trimClips } from '@/core/programme/edits/cutting';
import { removeClips } from '@/core/programme/edits/clips';
import { setSampleRate } from '@/core/programme/edits/settings';
import { clipEnd, type Clip, type Id, type Project } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { freePlace } from '@/core/programme/overlaps';
import { placeText } from '@/core/programme/timeText';
import { newId } from '../session/newId';
import { takeNew } from '../session/placing';
import type { Session } from '../session/session';

/** What was copied last; it can be pasted into any open project that has its sources. */
let copied: { readonly clips: readonly Clip[]; readonly sampleRate: number } = {
  clips: [],
  sampleRate: 48_000,
};

/** The same clips as a programme of another rate has them. */
function copiedAt(project: Project): readonly Clip[] {
  const of = { ...project, clips: copied.clips, markers: [], sampleRate: copied.sampleRate };
  return setSampleRate(of, project.sampleRate).clips;
}

const chosen = (session: Session, ids: ReadonlySet<Id>): Clip[] =>
  session.project.clips.filter((clip) => ids.has(clip.id));

/** Does one step that makes new clips, and selects them. */
function makeClips(session: Session, name: string, clips: readonly Clip[], at: number): void {
  const before = session.project;
  session.do(name, (project) => pasteClips(project, clips, at, newId));
  takeNew(session, before);
}

/** The cuts that can be made to chosen clips, each one named step. */
export const cutActions = {
  split(session: Session, ids: ReadonlySet<Id>): void {
    const { playhead } = session.state;
    const under = chosen(session, ids).filter((clip) => clip.start < playhead && playhead < clipEnd(clip));
    session.do(`Split ${count(under.length, 'clip')}`, (project) =>
      splitClips(project, ids, playhead, newId),
    );
  },

  /** Splits at both ends of the range, so that what lies in it is a clip of its own. */
  splitAtRange(session: Session, ids: ReadonlySet<Id>): void {
    const { range } = session.state;
    if (!range) return;
    const lies = (clip: Clip): boolean => clip.start < range.to && clipEnd(clip) > range.from;
    const within = chosen(session, ids).filter(lies);
    const made = new Set(within.map(({ id }) => id));
    session.do(`Split ${count(within.length, 'clip')} at the range`, (project) =>
      [range.to, range.from].reduce((state, at) => splitClips(state, made, at, newId), project),
    );
    const names = new Set(within.map(({ sourceId, trackId }) => `${sourceId} ${trackId}`));
    session.select(
      session.project.clips
        .filter((clip) => clip.start >= range.from && clipEnd(clip) <= range.to)
        .filter(({ sourceId, trackId }) => names.has(`${sourceId} ${trackId}`))
        .map(({ id }) => id),
    );
  },

  /** Brings an edge of the clips under the playhead to it. */
  trim(session: Session, ids: ReadonlySet<Id>, edge: 'start' | 'end'): void {
    const { playhead } = session.state;
    const under = chosen(session, ids).filter((clip) => clip.start < playhead && playhead < clipEnd(clip));
    const which = new Set(under.map((clip) => clip.id));
    if (which.size === 0) return;
    session.do(`Trim ${edge} of ${count(which.size, 'clip')}`, (project) =>
      trimClips(project, which, edge, playhead),
    );
  },

  copy(session: Session, ids: ReadonlySet<Id>): void {
    copied = { clips: chosen(session, ids), sampleRate: session.project.sampleRate };
  },

  cut(session: Session, ids: ReadonlySet<Id>): void {
    cutActions.copy(session, ids);
    session.do(`Cut ${count(ids.size, 'clip')}`, (project) => removeClips(project, ids));
  },

  paste(session: Session): void {
    const clips = copiedAt(session.project);
    if (clips.length > 0)
      makeClips(session, `Paste ${count(clips.length, 'clip')}`, clips, session.state.playhead);
  },

  /** Puts copies behind the last of the clips, at the first place where they cover nothing. */
  duplicate(session: Session, ids: ReadonlySet<Id>): void {
    const clips = chosen(session, ids);
    if (clips.length === 0) return;
    const end = clips.reduce((last, clip) => Math.max(last, clipEnd(clip)), 0);
    const at = freePlace(session.project, clips, end);
    makeClips(session, `Duplicate ${count(clips.length, 'clip')}`, clips, at);
    if (at > end)
      session.notes.tell(
        `Placed at ${placeText(session.project, at)}, the first place behind where nothing is covered.`,
      );
  },

  removeAndClose(session: Session, ids: ReadonlySet<Id>): void {
    session.do(`Remove ${count(ids.size, 'clip')}, closing the gap`, (project) =>
      removeAndClose(project, ids),
    );
  },
};
