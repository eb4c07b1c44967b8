import type { Role } from '@/core/programme/model';

/** The demo programme as data: tracks, and where each file lies. Sound files are served from `/demo/`. */
export const FROSTLINE = {
  name: 'Frostline',
  tracks: [
    { key: 'narrator', name: 'Narrator', role: 'narration' },
    { key: 'observer', name: 'Observer', role: 'dialogue' },
    { key: 'voices', name: 'Other voices', role: 'dialogue' },
    { key: 'effects', name: 'Alarm', role: 'effects' },
    { key: 'ambience', name: 'Wind and hut', role: 'ambience' },
    { key: 'music', name: 'Music', role: 'music' },
  ] satisfies readonly { key: string; name: string; role: Role }[],

  /** What is told, one after the other: each begins `pause` seconds after the one before has ended. */
  told: [
    { file: 'narrator-1-last-car.wav', track: 'narrator', pause: 8.0 },
    { file: 'observer-indoors-1-kettle.wav', track: 'observer', pause: 1.9 },
    { file: 'narrator-2-the-hut.wav', track: 'narrator', pause: 1.6 },
    { file: 'narrator-3-every-hour.wav', track: 'narrator', pause: 1.9 },
    { file: 'observer-outdoors-1-roof.wav', track: 'observer', pause: 2.4 },
    { file: 'mechanic-the-spoon.wav', track: 'voices', pause: 1.9 },
    { file: 'observer-indoors-2-figures.wav', track: 'observer', pause: 1.4 },
    { file: 'narrator-4-pressure.wav', track: 'narrator', pause: 1.6 },
    { file: 'frost-alarm.wav', track: 'effects', pause: 1.0 },
    { file: 'valley-radio-call.wav', track: 'voices', pause: 1.2 },
    { file: 'observer-outdoors-2-gust.wav', track: 'observer', pause: 1.6 },
    { file: 'valley-radio-reply.wav', track: 'voices', pause: 1.1 },
    { file: 'observer-indoors-3-why.wav', track: 'observer', pause: 1.9 },
    { file: 'observer-whisper.wav', track: 'observer', pause: 2.4 },
    { file: 'narrator-5-morning.wav', track: 'narrator', pause: 2.9 },
  ],

  /** What lies beneath: from the start of one told file, shifted by `shift` seconds, `times` times end to end. */
  beneath: [
    { file: 'music-frostline-theme.wav', track: 'music', under: null, shift: 0, times: 1 },
    {
      file: 'ambience-wind-ridge.wav',
      track: 'ambience',
      under: 'narrator-1-last-car.wav',
      shift: 7,
      times: 1,
    },
    {
      file: 'ambience-hut-generator.wav',
      track: 'ambience',
      under: 'observer-indoors-1-kettle.wav',
      shift: -1,
      times: 3,
    },
    {
      file: 'ambience-wind-ridge.wav',
      track: 'ambience',
      under: 'observer-outdoors-1-roof.wav',
      shift: -1.5,
      times: 1,
    },
    {
      file: 'ambience-hut-generator.wav',
      track: 'ambience',
      under: 'mechanic-the-spoon.wav',
      shift: 0,
      times: 3,
    },
    {
      file: 'ambience-wind-ridge.wav',
      track: 'ambience',
      under: 'observer-outdoors-2-gust.wav',
      shift: -1,
      times: 1,
    },
    {
      file: 'ambience-hut-generator.wav',
      track: 'ambience',
      under: 'valley-radio-reply.wav',
      shift: 2.5,
      times: 3,
    },
    {
      file: 'music-frostline-theme.wav',
      track: 'music',
      under: 'narrator-5-morning.wav',
      shift: 3,
      times: 1,
    },
  ],
} as const;
