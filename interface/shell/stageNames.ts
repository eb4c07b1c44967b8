/** The stages of a project, in the order of the work: as addresses name them, and as they are called. */
export const STAGES = [
  { id: 'sources', name: 'Sources' },
  { id: 'programme', name: 'Programme' },
  { id: 'check', name: 'Check' },
  { id: 'handover', name: 'Handover' },
] as const;

export type StageName = (typeof STAGES)[number]['id'];
