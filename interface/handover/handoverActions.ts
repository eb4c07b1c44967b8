import { programmeFrames } from '@/core/programme/model';
import { writeOtio } from '@/core/timeline/writeOtio';
import { safeName } from '@/core/text/safeName';
import { saveBlob } from '../ui/saveBlob';
import { leftOut, isAbsent } from '../session/sounds';
import type { Session } from '../session/session';

/** Whether the programme can be rendered now: it is measured, all of its sound is there, and nothing is being rendered. */
export function canRender(session: Session): boolean {
  const { project, state } = session;
  return (
    session.handover.store.getState().phase === 'idle' &&
    state.measuring === null &&
    state.programme !== null &&
    programmeFrames(project) > 0 &&
    leftOut(project, (key) => !isAbsent(state.absent, key)).clips.length === 0
  );
}

/** Renders the programme to a file and measures that. */
export function renderProgramme(session: Session): void {
  const { programme } = session.state;
  if (!programme || !canRender(session)) return;
  const { project, handover } = session;
  const { format } = handover.store.getState();
  void handover.start(project, programme.figures, format, `${safeName(project.name)}.wav`);
}

/** Saves the file that was rendered last. */
export function saveRendered(session: Session): void {
  const { result } = session.handover.store.getState();
  if (result) saveBlob(result.blob, result.fileName);
}

/** Saves the timeline for an edit system. */
export function exportTimeline({ project }: Session): void {
  const blob = new Blob([writeOtio(project)], { type: 'application/json' });
  saveBlob(blob, `${safeName(project.name)}.otio`);
}
