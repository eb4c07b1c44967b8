import { findingsReport } from '@/core/deliver/findingsReport';
import type { EditMedia } from '@/core/deliver/editMedia';
import { fixProposal } from '@/core/proposals/fixes/fixProposal';
import { frameRateOf } from '@/core/programme/timeText';
import type { Project } from '@/core/programme/model';
import { safeName } from '@/core/text/safeName';
import { FRAME_RATES, type FrameRate } from '@/core/text/timecode';
import { edlCannotSay, otioCannotSay } from '@/core/timeline/cannotSay';
import { cueTable, cuesAsVtt, cuesOfFindings, cuesOfMarkers, type Cue } from '@/core/timeline/cues';
import { gainTable } from '@/core/timeline/gainTable';
import { writeEdl } from '@/core/timeline/writeEdl';
import { writeOtio } from '@/core/timeline/writeOtio';
import type { Session } from '../../session/session';
import { csvOf } from '../../ui/csv';
import { saveBlob } from '../../ui/saveBlob';
import { pickFolder, pickZip, type NamedBlob } from '../../ui/saveMany';

/** What goes back to the edit. */
export type EditForm = 'timeline' | 'list' | 'table' | 'markers' | 'media';

export const EDIT_FORMS: readonly EditForm[] = ['timeline', 'list', 'table', 'markers', 'media'];

export const FORM_NAMES: Readonly<Record<EditForm, string>> = {
  timeline: 'Timeline',
  list: 'Edit list',
  table: 'Table',
  markers: 'Markers',
  media: 'Media',
};

const USUAL_RATE = FRAME_RATES.find(({ id }) => id === '25')!;

/** How frames of picture are counted in lists: as the project does, else 25 a second. */
export const listRate = ({ time }: Pick<Project, 'time'>): FrameRate => frameRateOf(time) ?? USUAL_RATE;

/** What the form cannot tell of this programme, full sentences. */
export function cannotTell(project: Project, form: EditForm): readonly string[] {
  switch (form) {
    case 'timeline':
      return otioCannotSay(project);
    case 'list':
      return edlCannotSay(project, writeEdl(project, listRate(project)));
    default:
      return [];
  }
}

const save = (project: Project, ending: string, type: string, text: string): void =>
  saveBlob(new Blob([text], { type }), `${safeName(project.name)}${ending}`);

export const saveTimeline = ({ project }: Session): void =>
  save(project, '.otio', 'application/json', writeOtio(project));

export const saveList = ({ project }: Session): void =>
  save(project, '.edl', 'text/plain', writeEdl(project, listRate(project)).text);

export const saveTable = ({ project }: Session): void =>
  save(project, ' gains.csv', 'text/csv', csvOf(gainTable(project)));

/** Puts the gains on the clipboard, to be pasted into a spreadsheet. */
export async function copyTable({ project, notes }: Session): Promise<void> {
  const rows = gainTable(project);
  const cell = (value: string | number | boolean): string => String(value).replace(/[\t\r\n]+/g, ' ');
  try {
    await navigator.clipboard.writeText(rows.map((row) => row.map(cell).join('\t')).join('\n'));
    notes.tell(`The gains of ${rows.length - 1} clips are on the clipboard, as a table.`);
  } catch {
    notes.fail('copy', {
      message: 'The browser does not let the page write to the clipboard.',
      hint: 'Save the table as a file instead.',
    });
  }
}

/** What markers can be saved as. */
export type CueForm = 'csv' | 'vtt' | 'otio';

/** Saves markers, and what was found where that is wanted; the programme is looked through first where that was not done yet. */
export async function saveMarkers(session: Session, form: CueForm, withFindings: boolean): Promise<void> {
  const { project } = session;
  let found: readonly Cue[] = [];
  if (withFindings) {
    const { checked, mends } = await session.checking.now();
    const findings = checked ? findingsReport(fixProposal(project, checked.findings, mends).rows) : [];
    found = cuesOfFindings(project, findings);
  }
  const cues = [...cuesOfMarkers(project), ...found].sort((a, b) => a.from - b.from);
  if (form === 'csv') save(project, ' markers.csv', 'text/csv', csvOf(cueTable(project, cues)));
  else if (form === 'vtt') save(project, ' markers.vtt', 'text/vtt', cuesAsVtt(project, cues));
  else save(project, ' with markers.otio', 'application/json', writeOtio(project, found));
}

/** Renders media for the edit, and puts the cuts that point to them beside. Asks where to. */
export async function renderMedia(session: Session, media: EditMedia, to: 'folder' | 'zip'): Promise<void> {
  const { project } = session;
  const name = safeName(project.name);
  const destination = await (to === 'folder' ? pickFolder() : pickZip(`${name} media.zip`));
  if (!destination) return;
  const cut = (ending: string, text: string): NamedBlob => ({
    name: `${name}.${ending}`,
    blob: new Blob([text]),
  });
  await session.mediaForEdit.runFiles(media.renderFrom, null, media.files, destination, [
    cut('otio', writeOtio(media.cut)),
    cut('edl', writeEdl(media.cut, listRate(project)).text),
  ]);
}
