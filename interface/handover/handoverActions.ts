import { deliveryFault, filesOf, sameNames, type DeliveryFile } from '@/core/deliver/deliveryFiles';
import { programmeFrames } from '@/core/programme/model';
import type { Delivery } from '@/core/programme/delivery';
import { dateText } from '@/core/text/dates';
import { safeName } from '@/core/text/safeName';
import { saveBlob } from '../ui/saveBlob';
import { pickFolder, pickZip, type Destination } from '../ui/saveMany';
import { leftOut, isAbsent } from '../session/sounds';
import type { Session } from '../session/session';

/** Where files go as each is done: kept here to be saved by hand, a folder, one zip. */
export type SaveTo = 'hand' | 'folder' | 'zip';

/** Why these deliveries cannot be rendered, a sentence; `null` when they can. */
export function cannotDeliver({ project }: Session, deliveries: readonly Delivery[]): string | null {
  if (deliveries.length === 0) return 'Pick a delivery first.';
  for (const delivery of deliveries) {
    const fault = deliveryFault(project, delivery);
    if (fault) return fault;
  }
  const [same] = sameNames(deliveries.flatMap((one) => filesOf(project, one, dateText(new Date()))));
  return same === undefined
    ? null
    : `Two files would be called ${same}: put a field that tells them apart into the name, such as {target}, {role} or {number}.`;
}

/** Whether the programme can be rendered now: it is measured, all of its sound is there, and nothing is being rendered. */
export function canRender(session: Session): boolean {
  const { project, state } = session;
  return (
    !session.handover.store.getState().running &&
    state.measuring === null &&
    state.programme !== null &&
    programmeFrames(project) > 0 &&
    leftOut(project, (key) => !isAbsent(state.absent, key)).clips.length === 0
  );
}

/** Renders deliveries, reads each file back and measures it. Asks where they go, where that is to be asked. */
export async function renderDeliveries(
  session: Session,
  deliveries: readonly Delivery[],
  to: SaveTo,
): Promise<void> {
  const { project } = session;
  if (!canRender(session) || cannotDeliver(session, deliveries)) return;
  let destination: Destination | null = null;
  if (to !== 'hand') {
    destination = await (to === 'folder' ? pickFolder() : pickZip(`${safeName(project.name)}.zip`));
    if (!destination) return;
  }
  await session.handover.run(project, session.state.programme?.figures ?? null, deliveries, destination);
}

/** Renders one file once more that failed or was cancelled; it is kept to be saved by hand. */
export async function renderAgain(session: Session, file: DeliveryFile): Promise<void> {
  const { project, state } = session;
  if (!canRender(session) || cannotDeliver(session, [file.delivery])) return;
  await session.handover.runFiles(project, state.programme?.figures ?? null, [file], null);
}

/** Saves a file that was rendered. */
export function saveRendered(session: Session, key: string): void {
  const result = session.handover.store.getState().lines.get(key)?.result;
  if (!result?.blob) return;
  saveBlob(result.blob, result.name);
  session.handover.saved(key);
}

/** The files that wait to be saved by hand. */
export const waitingToBeSaved = (session: Session): readonly string[] =>
  [...session.handover.store.getState().lines]
    .filter(
      ([, { file, result }]) =>
        result?.blob &&
        result.savedAs === null &&
        session.project.deliveries.some(({ id }) => id === file.delivery.id),
    )
    .map(([key]) => key);
