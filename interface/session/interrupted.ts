import { array, string } from 'yup';
import { getPreference, putPreference } from '@/storage/preferences';
import type { Notes } from './notes';
import type { ImportJob } from './state';

const shape = array().of(string().required().max(2_000)).required();

const nameOf = (projectId: string): string => `coming in ${projectId}`;

/** As many are named one by one. */
const MOST_NAMED = 8;

/** Remembers which files are on their way into a project, so that they can be named should the page be left meanwhile. */
export class Interrupted {
  private names = '';

  constructor(
    private readonly projectId: string,
    private readonly notes: Notes,
  ) {}

  /** Follows the list of files on their way. */
  follow(jobs: readonly ImportJob[]): void {
    const names = jobs.filter(({ phase }) => phase !== 'failed').map(({ name }) => name);
    if (names.join('\n') === this.names) return;
    this.names = names.join('\n');
    // Not worth a word when it cannot be kept: the files are still coming in.
    void putPreference(nameOf(this.projectId), names).catch(() => undefined);
  }

  /** Names the files that were on their way when the page was left. */
  async tell(): Promise<void> {
    const stored = await getPreference(nameOf(this.projectId)).catch(() => null);
    if (!shape.isValidSync(stored, { strict: true }) || stored.length === 0) return;
    const more = stored.length - MOST_NAMED;
    const names = `${stored.slice(0, MOST_NAMED).join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
    this.notes.fail('interrupted', {
      message: `The page was closed while these were importing: ${names}.`,
      hint: 'Add them again.',
    });
    await putPreference(nameOf(this.projectId), []).catch(() => undefined);
  }
}
