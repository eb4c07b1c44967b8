import { isService } from '@/core/check/serviceFile';
import type { Service } from '@/core/check/services';
import { isDeliverySet, type DeliverySet } from '@/core/deliver/deliverySet';
import { isLimiterPreset } from '@/core/proposals/limiterFile';
import { isPlan } from '@/core/proposals/planFile';
import type { Plan } from '@/core/programme/plan';
import type { Limiter } from '@/core/programme/model';
import { changeList, readList, type KeptList } from './lists';

/** An editor's own presets of one kind, by their names. */
export interface OwnPresets<T> {
  /** Those that can be read, oldest first, and what of them cannot be. */
  readonly list: () => Promise<KeptList<T>>;
  /** Saves one; another of the same name gives way. */
  readonly save: (preset: T) => Promise<T[]>;
  /** Forgets one. What was set from it stays as it is. */
  readonly remove: (name: string) => Promise<T[]>;
}

const presets = <T extends { readonly name: string }>(
  key: string,
  is: (value: unknown) => value is T,
): OwnPresets<T> => ({
  list: () => readList(key, is),
  save: (preset) =>
    changeList(key, is, (all) => {
      const at = all.findIndex(({ name }) => name === preset.name);
      return at < 0 ? [...all, preset] : all.with(at, preset);
    }),
  remove: (name) => changeList(key, is, (all) => all.filter((preset) => preset.name !== name)),
});

export const ownPlans = presets<Plan>('own-plans', isPlan);
export const ownServices = presets<Service>('own-services', isService);
export const ownLimiters = presets<Limiter>('own-limiters', isLimiterPreset);
export const ownDeliveries = presets<DeliverySet>('own-deliveries', isDeliverySet);
