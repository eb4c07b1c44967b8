import { useCallback, useMemo, useState, type RefObject } from 'react';
import { useStore } from 'zustand';
import { pictureAt, picturedClips } from '@/core/programme/pictureAt';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { usePlayhead } from '../usePlayhead';

/** A running picture may be so far from the sound before it is put right, seconds: two frames. */
const APART_SECONDS = 0.08;
/** The same while it stands. */
const STANDING_SECONDS = 0.005;

/** Puts a film where the programme is. */
function follow(video: HTMLVideoElement, seconds: number, playing: boolean): void {
  // While it looks for one place it is not sent to the next: it would never arrive.
  if (!video.seeking && Math.abs(video.currentTime - seconds) > (playing ? APART_SECONDS : STANDING_SECONDS))
    video.currentTime = seconds;
  if (playing && video.paused) void video.play().catch(() => undefined);
  if (!playing && !video.paused) video.pause();
}

/** Which film the picture is of at the playhead; keeps the element at its place. */
export function usePicture(video: RefObject<HTMLVideoElement | null>) {
  const session = useSession();
  const project = useProject();
  const playing = useSessionState((state) => state.playing);
  const { files, reference } = useStore(session.pictures.store);
  const clips = useMemo(() => picturedClips(project, new Set(files.keys())), [project, files]);
  const [shown, setShown] = useState<File | null>(null);
  const { sampleRate } = project;
  usePlayhead(
    video,
    useCallback(
      (element, frame) => {
        const place = reference ? null : pictureAt(clips, frame, sampleRate);
        const file = reference ? reference.file : place && (files.get(place.sourceId) ?? null);
        const seconds = reference ? frame / sampleRate - reference.begins : (place?.seconds ?? 0);
        setShown(file);
        if (file) follow(element as HTMLVideoElement, Math.max(0, seconds), playing && seconds >= 0);
      },
      [clips, files, reference, sampleRate, playing],
    ),
  );
  return { shown, reference, hasFilms: files.size > 0 };
}
