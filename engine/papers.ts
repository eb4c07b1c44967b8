import { wrap, type Remote } from 'comlink';
import type { PaperApi } from './paper.worker';

export type { Paper } from '@/documents/pdf/sheet';

let api: Remote<PaperApi> | null = null;

/** The worker that makes papers, begun when first needed. */
export function paperMaker(): Remote<PaperApi> {
  api ??= wrap<PaperApi>(new Worker(new URL('./paper.worker.ts', import.meta.url), { type: 'module' }));
  return api;
}
