import { placeSource } from '@/core/programme/edits/clips';
import { addTrack } from '@/core/programme/edits/project';
import { covering } from '@/core/programme/overlaps';
import { clipEnd, PLAIN_TRACK, type Id, type Project, type Source } from '@/core/programme/model';
import { count } from '@/core/text/words';
import { newId } from './newId';
import type { Session } from './session';

/** A place on a track; `null` for a track that is to be made. */
export interface Place {
  readonly trackId: Id | null;
  /** Programme frames. */
  readonly start: number;
}

/** Says when clips that came to lie somewhere lie over others. */
function tellCovering(session: Session, ids: ReadonlySet<Id>): void {
  const over = covering(session.project, ids);
  if (over.length === 0) return;
  const who = over.length === 1 ? `${over[0]!.name} lies` : `${count(over.length, 'clip')} lie`;
  session.notes.tell(`${who} over what is there: both sound.`);
}

/** Selects the clips that came in with the last step, and says when they lie over others. */
export function takeNew(session: Session, before: Project): void {
  const known = new Set(before.clips.map(({ id }) => id));
  const made = session.project.clips.map(({ id }) => id).filter((id) => !known.has(id));
  session.select(made);
  tellCovering(session, new Set(made));
}

/** Places sources one after the other from a place on, as one step; where there is no track, one is made. */
export function placeSources(session: Session, sources: readonly Source[], { trackId, start }: Place): void {
  const before = session.project;
  const [first] = sources;
  if (!first) return;
  const id = trackId ?? newId();
  const name = `Track ${before.tracks.length + 1}`;
  const who = sources.length === 1 ? first.name : count(sources.length, 'clip');
  session.do(`Place ${who}`, (project) => {
    const track = { id, name, role: 'dialogue', ...PLAIN_TRACK } as const;
    const laid = trackId === null ? addTrack(project, track) : project;
    let at = start;
    return sources.reduce((state, { id: sourceId }) => {
      const placed = placeSource(state, { clipId: newId(), sourceId, trackId: id, start: at });
      at = clipEnd(placed.clips.at(-1)!);
      return placed;
    }, laid);
  });
  takeNew(session, before);
}
