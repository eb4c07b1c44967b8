import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readRecipients, type Recipient } from '@/core/recipients/recipient';
import { SHIPPED_RECIPIENTS } from '@/core/recipients/shipped';
import { ApiError } from './apiError';

/** Recipients of one's own: files (.json) in a folder named `recipients`, or the one that DENGUNG_RECIPIENTS names. */
function own(): readonly Recipient[] {
  const folder =
    process.env['DENGUNG_RECIPIENTS'] ?? join(/* turbopackIgnore: true */ process.cwd(), 'recipients');
  let names: readonly string[];
  try {
    names = readdirSync(/* turbopackIgnore: true */ folder).filter((name) => name.endsWith('.json'));
  } catch {
    return [];
  }
  return names.flatMap((name) => {
    const read = readRecipients(readFileSync(/* turbopackIgnore: true */ join(folder, name), 'utf8'));
    if (!('error' in read)) return read;
    throw new ApiError(500, 'badRecipients', `${name}: ${read.error}`, 'Correct the file, or take it away.');
  });
}

/** Everybody who takes deliveries here; one's own before those that come with the product. */
export function recipients(): readonly Recipient[] {
  const mine = own();
  return [...mine, ...SHIPPED_RECIPIENTS.filter(({ id }) => !mine.some((one) => one.id === id))];
}

export function recipientNamed(id: string): Recipient {
  const recipient = recipients().find((one) => one.id === id);
  if (recipient) return recipient;
  throw new ApiError(404, 'noSuchRecipient', `There is no recipient “${id}”.`, 'See GET /api/recipients.');
}
