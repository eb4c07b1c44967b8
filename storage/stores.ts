import localforage from 'localforage';

const store = (storeName: string): LocalForage => localforage.createInstance({ name: 'dengung', storeName });

/** One record a project: the project with its history. */
export const projectStore = store('projects');
/** One record a project: what the shelf shows of it. */
export const shelfStore = store('shelf');
/** Sound, in pieces. */
export const audioStore = store('audio');
/** Measurements of sources and clips; all of it can be worked out again. */
export const measurementStore = store('measurements');
/** One record a project: what was handed over of it. */
export const handoverStore = store('handovers');
/** What belongs to no project: own targets. */
export const settingsStore = store('settings');
/** What could not be read, as it was found. */
export const asideStore = store('aside');
/** What was measured of finished files that are being audited: of this visit only. */
export const auditStore = store('audit');
