import type { Command } from '@commander-js/extra-typings';
import { SHIPPED_TARGETS } from '@/core/check/shipped';
import { say } from './say';
import * as usage from './usage';

export const READ = `WAV, BWF, RF64, BW64, AIFF, CAF, FLAC, MP3, Ogg Vorbis and Opus are read, and the sound of MP4, MOV, Matroska, WebM and transport streams where it is one of these.`;

export const TARGETS = SHIPPED_TARGETS.map(({ id }) => id);

/** What a command ends with. */
export type Ended = (code: number) => void;

/** The file or folder that an option names, or something else in words. */
export const named = usage.text;

/** A command that says nothing by itself: what was called wrongly is thrown. */
export const quiet = <T extends Command>(command: T): T => {
  command
    .exitOverride()
    .configureOutput({ writeOut: (text) => say(text.trimEnd()), writeErr: () => undefined });
  return command;
};
