import { parseGainEntry, type GainEntry, type GainRange } from '@/core/programme/gainField';
import { figure } from '@/core/text/figures';
import { useTyped } from './useTyped';

/**
 * A gain that is being typed.
 * @param value dB; `null` when several differ
 * @param leaves see `useTyped`
 */
export function useGainEntry(
  value: number | null,
  range: GainRange,
  onEntry: (entry: GainEntry) => void,
  leaves = false,
) {
  const take = (text: string): string | null => {
    if (text.trim() === '') return null;
    const entry = parseGainEntry(text, range);
    if ('error' in entry) return entry.error;
    onEntry(entry);
    return null;
  };
  return useTyped(value === null ? '' : figure(value, 2), take, undefined, leaves);
}
