import { replaceSound, type ReplacedSound } from '@/codecs/write/replaceSound';
import { wavChannels } from '@/core/audio/layout';
import { WHOLE_FIRST_SOUND } from '@/core/audio/soundChoice';
import { filmWords } from '@/core/deliver/filmWords';
import { disagreement } from '@/core/loudness/agreement';
import { figuresOf } from '@/core/loudness/figures';
import { withUnit } from '@/core/text/figures';
import { failed } from './failed';
import { FileError, withFile } from './files';
import { measureFile } from './measureFile';
import { MediaShelf } from './media';
import { checkOutput, replacedNotes, SOUND_ENDINGS, writeWhole } from './output';
import { openPool } from './pool';
import { ProgressLine } from './progress';
import { complain, say, sayJson } from './say';

export interface FilmOptions {
  readonly film: string;
  readonly sound: string;
  readonly out: string;
  /** Which of the film's sounds is replaced, from 0. */
  readonly track: number;
  readonly keepExisting: boolean;
  readonly json: boolean;
  readonly jobs: number;
}

/** `dengung film`: a copy of a film with another sound, its picture as it is. @returns the exit code */
export async function filmCommand(options: FilmOptions): Promise<number> {
  const { film, sound, out, track, keepExisting, json } = options;
  const progress = new ProgressLine(2);
  const pool = openPool(options.jobs);
  const shelf = new MediaShelf(pool);
  try {
    const output = await checkOutput(out, { inputs: [film, sound], keepExisting, endings: SOUND_ENDINGS });
    const went = await measureFile(sound, WHOLE_FIRST_SOUND, pool, (done) => progress.at(sound, done));
    const reader = await shelf.open(await shelf.add(sound));
    let made = null as ReplacedSound | null;
    const figures = await writeWhole(
      output,
      async (sink) => {
        made = await withFile(film, (source) =>
          replaceSound(source, track, reader, sink, (done) => {
            progress.at(film, done);
            return true;
          }),
        );
        const { ending } = made!;
        if (ending !== null && !out.toLowerCase().endsWith(ending))
          throw new FileError(
            'otherEnding',
            'A copy of an MP4 with plain samples becomes a MOV: many players play plain samples in MP4 as noise.',
            `Give --out a name ending in ${ending}.`,
          );
      },
      async (part) => {
        const as = wavChannels(reader.format.layout).layout;
        const read = await measureFile(part, { ...WHOLE_FIRST_SOUND, track, as }, pool, () => undefined);
        const found = figuresOf(read.measured.history);
        const wrong = disagreement(figuresOf(went.measured.history), found);
        if (wrong === null) return found;
        throw new FileError('notAsPredicted', `${wrong} No file was written.`, 'Report this as a defect.');
      },
    );
    progress.end();
    const notes = [
      ...filmWords(made!, reader.format.frames / reader.format.sampleRate),
      ...replacedNotes(output),
    ];
    if (json) sayJson({ file: out, figures, notes });
    else {
      say(
        `${out}: ${withUnit(figures.integratedLufs, 'LUFS')}, true peak ${withUnit(figures.truePeakDbtp, 'dBTP')}, measured from the film.`,
      );
      for (const note of notes) complain(note);
    }
    return 0;
  } catch (error) {
    progress.end();
    return failed(error, json, { file: film });
  } finally {
    await shelf.close();
    await pool.close();
  }
}
