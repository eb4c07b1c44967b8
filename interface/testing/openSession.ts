import { File } from 'node:buffer';
import { vi } from 'vitest';
import { layoutFor } from '@/core/audio/layout';
import { encodePcm } from '@/core/audio/pcm';
import { wavFrame } from '@/core/formats/wav/write';
import { placeSource } from '@/core/programme/edits/clips';
import { startHistory } from '@/core/programme/history';
import { clipEnd } from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import { tones } from '@/core/testing/signals';
import { Session } from '../session/session';
import type { SessionState } from '../session/state';

const RATE = 48_000;

/** Sound as a file. */
export function soundFile(name: string, channels: Float32Array[]): globalThis.File {
  const frames = channels[0]!.length;
  const layout = layoutFor(channels.length);
  const { header, trailer } = wavFrame({ sampleRate: RATE, layout, format: 's24', frames });
  const { bytes } = encodePcm(channels, frames, 's24');
  return new File([header, bytes, trailer], name, { type: 'audio/wav' }) as unknown as globalThis.File;
}

/** A stereo tone as a file. */
export const toneFile = (name: string, dbfs: number, seconds = 4): globalThis.File =>
  soundFile(name, tones([{ dbfs, seconds }], RATE, 2));

/** An empty project, opened. */
export async function openSession(): Promise<Session> {
  const session = new Session(startHistory(newProject('p', 'Reel', 'track')));
  await session.open();
  return session;
}

/** Waits for a state of a session. */
export const until = (session: Session, holds: (state: SessionState) => boolean): Promise<SessionState> =>
  vi.waitFor(
    () => {
      if (!holds(session.state)) throw new Error('Not yet');
      return session.state;
    },
    { timeout: 20_000, interval: 5 },
  );

/** Waits until the programme at rest is measured. */
export const measured = (session: Session): Promise<SessionState> =>
  until(session, ({ measuring, preview }) => measuring === null && !preview);

/** Brings files in, places them end to end as clips `c0`, `c1` …, and waits until all is measured. */
export async function placeFiles(session: Session, ...files: globalThis.File[]): Promise<void> {
  await session.addFiles(files);
  session.do('Place', (project) =>
    project.sources.reduce(
      (state, source, i) =>
        placeSource(state, {
          clipId: `c${i}`,
          sourceId: source.id,
          trackId: 'track',
          start: state.clips.reduce((end, clip) => Math.max(end, clipEnd(clip)), 0),
        }),
      project,
    ),
  );
  await measured(session);
  await until(session, () => {
    const of = session.clipMeasurements(session.project);
    return session.project.clips.every((clip) => of(clip) !== null);
  });
}
