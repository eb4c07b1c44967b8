import type { Delivery } from '@/core/programme/delivery';
import type { Project } from '@/core/programme/model';
import { areAlike, soundDifferences } from '@/core/signal/differences';
import type { DeliveryFile } from './deliveryFiles';

const same = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/**
 * Why a file is no longer what would be delivered now, a sentence; `null` when it still is.
 * @param then the project it was rendered from
 * @param files those that the deliveries come to now
 */
export function staleReason(
  file: DeliveryFile,
  then: Project,
  now: Project,
  files: readonly DeliveryFile[],
): string | null {
  const current = files.find(({ key }) => key === file.key);
  if (!current) return 'This is no longer among what is delivered.';
  const settings = ({ id: _, ...rest }: Delivery): unknown => rest;
  if (!same(settings(file.delivery), settings(current.delivery)))
    return 'The settings have changed since it was rendered.';
  if (file.from !== current.from || file.to !== current.to)
    return 'It begins or ends elsewhere since it was rendered.';
  if (then === now) return null;
  if (!areAlike(then, now)) return 'The programme has another rate or layout since it was rendered.';
  const touched = soundDifferences(then, now).some(({ from, to }) => to > file.from && from < file.to);
  if (touched) return 'The mix has changed since it was rendered.';
  return file.name === current.name ? null : `It would be called ${current.name} now.`;
}
