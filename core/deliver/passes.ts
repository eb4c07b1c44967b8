import type { LoudnessFigures } from '@/core/loudness/figures';
import { isStems } from '@/core/programme/delivery';
import type { CorrectionWay } from '@/core/proposals/correction';
import type { DeliveryFile } from './deliveryFiles';
import type { Treatment } from './deliveredSound';
import { isLossy } from './fileKinds';
import { saysLoudness } from './fileSaid';

/** What is done to the mix on its way into a file, besides its level. */
export const treatmentOf = ({ delivery }: DeliveryFile): Treatment => ({
  ...{ layoutId: delivery.layoutId, sampleRate: delivery.sampleRate },
  ...{ headSeconds: delivery.headSeconds, tailSeconds: delivery.tailSeconds },
});

/** Whether its coder says its loudness: it has to be known before the first sample is written. */
const saysItself = (file: DeliveryFile): boolean => isLossy(file.delivery.format) && saysLoudness(file);

/** Whether what is given to a file has to be worked out from the mix. */
export const asksTheMix = (file: DeliveryFile): boolean => {
  const { delivery } = file;
  const moved = delivery.target !== null && delivery.correction !== 'none';
  return moved || (!isStems(delivery) && saysItself(file));
};

/** Whether a file is the whole programme as it is measured all the time. */
export const isPlain = ({ delivery, clipIds }: DeliveryFile): boolean =>
  clipIds === null &&
  delivery.range.kind === 'all' &&
  delivery.layoutId === null &&
  delivery.sampleRate === null;

/** Files that have a span of the programme in common are made side by side. */
export function bySpan(files: readonly DeliveryFile[]): readonly (readonly DeliveryFile[])[] {
  const groups = new Map<string, DeliveryFile[]>();
  for (const file of files) {
    const key = `${file.from}/${file.to}`;
    groups.set(key, [...(groups.get(key) ?? []), file]);
  }
  return [...groups.values()];
}

/** How the level of a file is corrected: stems as the whole mix is, so that they still add up to it. */
export const wayOf = ({ delivery }: DeliveryFile): CorrectionWay =>
  delivery.correction === 'limiter' ? 'limiter' : 'gain';

/** The integrated loudness that the coder of a file says, LUFS; `null` where it says none. */
export const saidLufsOf = (file: DeliveryFile, predicted: LoudnessFigures | null): number | null =>
  (saysItself(file) ? predicted?.integratedLufs : null) ?? null;
