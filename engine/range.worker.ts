import { expose } from 'comlink';
import { signalArrays } from '@/core/loudness/signalBlocks';
import { measureEach } from '@/core/measuring/measureEach';
import { measureMoving } from '@/core/measuring/measureMoving';
import { measureRange } from '@/core/measuring/measureRange';
import { measureParts } from '@/core/measuring/measureParts';
import { sumsArrays } from '@/core/measuring/movingSums';
import type { Project } from '@/core/programme/model';
import { answer } from './answer';
import { AudioShelf } from './audioShelf';
import { buffersOf } from './buffers';
import type { RangeApi } from './protocol';

const shelf = new AudioShelf();
let project: Project | null = null;

const always = (): boolean => true;

const api: RangeApi = {
  putAudio: (audioKey, blob) => shelf.put(audioKey, blob),

  take(next) {
    project = next;
  },

  measureRange(range) {
    const of = project!;
    return answer(
      () => measureRange(of, range, shelf.open, always),
      ({ energy, samplePeak, truePeak, signal }) =>
        buffersOf([energy, ...samplePeak, ...truePeak, ...signalArrays(signal)]),
    );
  },

  measureMoving(moving, range) {
    const of = project!;
    return answer(
      () => measureMoving(of, moving, range, shelf.open, always),
      (sums) => buffersOf(sumsArrays(sums)),
    );
  },

  measureEach(range) {
    const of = project!;
    return answer(() => measureEach(of, range, shelf.open));
  },

  measureParts(range) {
    const of = project!;
    return answer(
      () => measureParts(of, range, shelf.open, always),
      ({ whole, parts }) =>
        buffersOf([whole, ...[...parts.values()].flatMap(({ cross, own }) => [cross, own])]),
    );
  },
};

expose(api);
