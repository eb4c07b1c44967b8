import { EBU_R128, SHIPPED_TARGETS } from '@/core/check/shipped';
import type { Target } from '@/core/check/target';
import type { Recipient } from './recipient';

const shipped = (id: string): Target => SHIPPED_TARGETS.find((target) => target.id === id)!;

/** Stand-ins that come with the product, all of them made up: to send to, to copy and to change. */
export const SHIPPED_RECIPIENTS: readonly Recipient[] = [
  {
    id: 'ridgeline-radio',
    name: 'Ridgeline Radio',
    about: 'A made-up radio network. Takes broadcast WAV with its loudness written in.',
    target: {
      ...EBU_R128,
      ...{ id: 'ridgeline-radio', name: 'Ridgeline Radio', source: 'Ridgeline Radio (made up)' },
      ...{ sampleRates: [48_000], bitDepths: [24], layouts: ['stereo', 'mono'] },
      ...{ containers: ['WAV', 'RF64', 'BW64'], maxHeadSeconds: 2, maxTailSeconds: 5, maxSeconds: 14_400 },
    },
    naming: {
      pattern: '^[A-Za-z0-9]+(?:[ _-][A-Za-z0-9.]+)*\\.wav$',
      words: 'Letters, digits, single spaces, hyphens or underscores, then .wav',
      example: 'Frostline EBU R 128.wav',
    },
    statesLoudness: true,
    set: null,
  },
  {
    id: 'skerry-video',
    name: 'Skerry Video',
    about: 'A made-up video platform. Takes lossless sound, loud enough for small speakers.',
    target: {
      ...shipped('web-video'),
      ...{ id: 'skerry-video', name: 'Skerry Video', source: 'Skerry Video (made up)' },
      ...{ sampleRates: [44_100, 48_000, 96_000], bitDepths: [16, 24, 32], layouts: ['stereo', '5.1'] },
      containers: ['WAV', 'FLAC', 'AIFF'],
    },
    naming: null,
    statesLoudness: false,
    set: null,
  },
  {
    id: 'lantern-podcasts',
    name: 'Lantern Podcasts',
    about: 'A made-up podcast host. Takes MP3 or WAV, one file an episode, three hours at most.',
    target: {
      ...shipped('podcast-stereo'),
      ...{ id: 'lantern-podcasts', name: 'Lantern Podcasts', source: 'Lantern Podcasts (made up)' },
      ...{ sampleRates: [44_100, 48_000], layouts: ['stereo', 'mono'], containers: ['MP3', 'WAV'] },
      ...{ minSeconds: 10, maxSeconds: 10_800, maxTailSeconds: 10 },
    },
    naming: {
      pattern: '^[^/\\\\]{3,120}\\.(?:mp3|wav)$',
      words: '3 to 120 letters, then .mp3 or .wav',
      example: 'Frostline podcast.mp3',
    },
    statesLoudness: false,
    set: null,
  },
  {
    id: 'tarnside-films',
    name: 'Tarnside Films',
    about:
      'A made-up film distributor. Takes a set: the full mix, and the same without speech for other languages.',
    target: {
      ...EBU_R128,
      ...{ id: 'tarnside-films', name: 'Tarnside Films', source: 'Tarnside Films (made up)' },
      ...{ sampleRates: [48_000], bitDepths: [24], layouts: ['stereo', '5.1'] },
      containers: ['WAV', 'RF64', 'BW64'],
    },
    naming: null,
    statesLoudness: false,
    set: [
      {
        ...{ name: 'Full mix', pattern: '^(?!.* M&E\\.).+$', example: 'Frostline.wav', judged: true },
      },
      {
        ...{ name: 'Music and effects', pattern: ' M&E\\.[a-z]+$', example: 'Frostline M&E.wav' },
        judged: false,
      },
    ],
  },
];
