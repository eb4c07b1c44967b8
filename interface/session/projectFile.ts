import type { History } from '@/core/programme/history';
import { projectFile } from '@/storage/projects';
import { safeName } from '@/core/text/safeName';
import { saveBlob } from '../ui/saveBlob';

/** Ending of a project's file. */
const PROJECT_ENDING = '.dengung.json';

const save = (text: string, name: string): void =>
  saveBlob(new Blob([text], { type: 'application/json' }), `${safeName(name)}${PROJECT_ENDING}`);

/** Offers a project with its history as a file; its sound stays in the browser. */
export function saveProjectFile({ project, past, future }: History): void {
  save(projectFile({ project, past, future }), project.name);
}

/** Offers what is kept of a project that cannot be read. */
export const saveAsKept = (text: string, id: string): void => save(text, `unreadable project ${id}`);
