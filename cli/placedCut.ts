import type { IntegrityFault } from '@/core/audio/integrity';
import { programmeFaults } from '@/core/programme/damagedSources';
import type { Source } from '@/core/programme/model';
import { newProject } from '@/core/programme/newProject';
import type { Project } from '@/core/programme/model';
import type { FrameRate } from '@/core/text/timecode';
import type { Cut } from '@/core/timeline/cut';
import { checkCutSize, readCut } from '@/core/timeline/readCut';
import { placeCut, type PlacedCut } from '@/core/timeline/toProject';
import { FileError, readText } from './files';
import { gather, type Gathered } from './gather';
import type { MediaShelf } from './media';
import { shown } from './say';
import type { Walked } from './walk';

/** A cut, and where its media are. */
export interface CutAndMedia {
  readonly cut: string;
  /** Folder that holds the media. */
  readonly media: string;
  /** The longest that the programme may be. */
  readonly mostHours: number;
  readonly frameRate: FrameRate;
}

/** A cut as a programme, and what of it was not to be had. */
export interface PlacedProject {
  readonly project: Project;
  readonly missing: readonly string[];
  /** Media that several files could be; none was taken. */
  readonly ambiguous: readonly { readonly name: string; readonly files: readonly string[] }[];
  readonly warnings: readonly string[];
  /** Why the programme cannot be certified: what of the cut is not in it, or not as there, and what is wrong with its media. */
  readonly integrity: readonly IntegrityFault[];
}

async function openCut({ cut, frameRate, mostHours }: CutAndMedia): Promise<Cut> {
  return readCut(await readText(cut, checkCutSize), cut, frameRate, mostHours);
}

/** Programme rate and layout: the most frequent rate of the media; stereo unless some of it has more channels. */
function shapeOf(media: ReadonlyMap<string, Source>): { sampleRate: number; layoutId: string } {
  const counts = new Map<number, number>();
  for (const source of media.values())
    counts.set(source.sampleRate, (counts.get(source.sampleRate) ?? 0) + 1);
  const [sampleRate = 48_000] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? [];
  const wide = [...media.values()].some(({ layout }) => layout.labels.length > 2);
  return { sampleRate, layoutId: wide ? '5.1' : 'stereo' };
}

/** Why nothing of a cut can be rendered. */
function nothingPlaced({ missing, warnings }: PlacedCut, { unsure }: Gathered, folder: string): FileError {
  const some = (names: readonly string[]): string =>
    `${names.slice(0, 5).map(shown).join(', ')}${names.length > 5 ? ' …' : ''}`;
  if (missing.length > unsure.length)
    return new FileError(
      'mediaMissing',
      `None of the media of this cut is in ${shown(folder)}: ${some(missing.map(({ name }) => name))}.`,
      'Name the folder that holds it with --media.',
    );
  if (unsure.length > 0)
    return new FileError(
      'ambiguous',
      `Several files could be ${some(unsure.map(({ name }) => name))}: ${some(unsure[0]!.files)}.`,
      'Name the folder that holds the right one with --media.',
    );
  return new FileError(
    'outsideMedia',
    `Every clip lies outside its media. ${warnings.slice(0, 3).join(' ')}`,
    'Check that the media are the ones the cut was made from.',
  );
}

/** Opens a cut and places it with its media. @throws FileError when nothing of it can be had */
export async function placedProject(
  options: CutAndMedia,
  walked: Walked,
  shelf: MediaShelf,
): Promise<PlacedProject> {
  const cut = await openCut(options);
  const gathered = await gather(cut, walked, shelf);
  const { media, unsure, warnings } = gathered;
  const { sampleRate, layoutId } = shapeOf(media);
  let ids = 0;
  const sources = [...new Set(media.values())];
  const empty = { ...newProject('render', cut.name, 'none'), sampleRate, layoutId, sources };
  const placed = placeCut(empty, cut, media, () => `i${ids++}`);
  if (placed.project.clips.length === 0) throw nothingPlaced(placed, gathered, options.media);
  const ambiguous = new Set(unsure.map(({ key }) => key));
  return {
    project: placed.project,
    missing: placed.missing.filter(({ key }) => !ambiguous.has(key)).map(({ name }) => name),
    ambiguous: unsure.map(({ name, files }) => ({ name, files })),
    warnings: [...placed.warnings, ...warnings],
    integrity: programmeFaults(placed.project),
  };
}
