import { asKind } from '@/core/deliver/fileKinds';
import { readDeliveries, writeDeliveries, type DeliverySet } from '@/core/deliver/deliverySet';
import { plainDelivery, WAV_24, type Delivery } from '@/core/programme/delivery';
import type { Target } from '@/core/check/target';
import { ownDeliveries } from '@/storage/presets';
import type { PresetKind } from '../ui/PresetMenu';

/** What a delivery can begin as. */
interface Start {
  readonly name: string;
  readonly make: (id: string, target: Target) => Delivery;
}

export const STARTS: readonly Start[] = [
  { name: 'The programme as WAV', make: (id, target) => plainDelivery(id, target) },
  {
    name: 'The programme as BWF, corrected to the target by gain',
    make: (id, target) => ({
      ...plainDelivery(id, target),
      ...{ pattern: '{project} {target}', format: asKind(WAV_24, 'bwf'), correction: 'gain' },
    }),
  },
  {
    name: 'A stem for each role',
    make: (id) => ({ ...plainDelivery(id, null), pattern: '{project} {role}', what: { kind: 'roles' } }),
  },
  {
    name: 'A stem for each track',
    make: (id) => ({
      ...plainDelivery(id, null),
      ...{ pattern: '{project} {track}', what: { kind: 'tracks', trackIds: [] } },
    }),
  },
  {
    name: 'All but dialogue and narration',
    make: (id) => ({
      ...plainDelivery(id, null),
      ...{ pattern: '{project} {role}', what: { kind: 'without', roles: ['dialogue', 'narration'] } },
    }),
  },
  {
    name: 'The programme as MP3',
    make: (id, target) => ({
      ...plainDelivery(id, target),
      ...{ pattern: '{project} {target}', format: asKind(WAV_24, 'mp3'), layoutId: 'stereo' },
    }),
  },
  {
    name: 'A file from each marker to the next',
    make: (id, target) => ({
      ...plainDelivery(id, target),
      ...{ pattern: '{project} {number} {marker}', range: { kind: 'markers' } },
    }),
  },
];

/** Sets of deliveries under a name. */
export const SETS: PresetKind<DeliverySet> = {
  one: 'delivery set',
  shipped: [],
  own: ownDeliveries,
  read: readDeliveries,
  write: writeDeliveries,
};
