import { readLimiters, writeLimiters } from '@/core/proposals/limiterFile';
import { SHIPPED_LIMITERS } from '@/core/signal/limiter/presets';
import type { Limiter } from '@/core/programme/model';
import { ownLimiters } from '@/storage/presets';
import type { PresetKind } from '../../ui/PresetMenu';

/** Limiters by name. */
export const LIMITERS: PresetKind<Limiter> = {
  one: 'limiter',
  shipped: SHIPPED_LIMITERS,
  own: ownLimiters,
  read(text) {
    const found = readLimiters(text);
    return 'error' in found ? found : found[0]!;
  },
  write: (limiter) => writeLimiters([limiter]),
};
