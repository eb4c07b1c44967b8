import { expose } from 'comlink';
import { VoiceDetector } from '@/codecs/voice';
import { openPcm } from '@/core/formats/openPcm';
import { Jobs } from './answer';
import { blobSource } from './blobSource';
import type { VoiceApi } from './protocol';

/** Comes with the product: see `scripts/lib/servedFiles.mjs`. */
const MODEL = '/voice/silero_vad_v6.onnx';

let detector: Promise<VoiceDetector> | null = null;

async function load(): Promise<VoiceDetector> {
  const answer = await fetch(MODEL);
  if (!answer.ok) throw new Error(`The voice detector could not be loaded (${answer.status}).`);
  return VoiceDetector.load(new Uint8Array(await answer.arrayBuffer()));
}

/** Loaded when first needed; where that failed, tried again the next time. */
function loaded(): Promise<VoiceDetector> {
  detector ??= load().catch((error: unknown) => {
    detector = null;
    throw error;
  });
  return detector;
}

const jobs = new Jobs();

const api: VoiceApi = {
  certainty: (job, blob, onProgress) =>
    jobs.answer(
      job,
      async (proceed) => (await loaded()).certainty(await openPcm(blobSource(blob)), proceed),
      { onProgress },
    ),
  cancel: jobs.cancel,
};

expose(api);
