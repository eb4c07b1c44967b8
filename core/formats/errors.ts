export type AudioFileErrorCode =
  | 'empty'
  | 'notAudio'
  | 'unsupportedContainer'
  | 'unsupportedCodec'
  | 'noDecoder'
  | 'noSuchTrack'
  | 'damagedHeader'
  | 'noSound'
  | 'unsupportedRate'
  | 'tooManyChannels'
  | 'unreadable'
  | 'doNotFit'
  | 'layoutDoesNotFit'
  | 'rangeOutside'
  | 'notSubtitles'
  | 'tooLarge'
  | 'cannotHold'
  | 'noFilm'
  | 'noPicture';

/** Why a file cannot be used, and what its owner can do. */
export class AudioFileError extends Error {
  override readonly name = 'AudioFileError';

  constructor(
    readonly code: AudioFileErrorCode,
    /** What is wrong, as a full sentence. */
    message: string,
    /** What to do, as a full sentence. */
    readonly hint: string,
  ) {
    super(message);
  }
}

/** Fewer bytes came than a file had when it was opened. */
export const shortRead = (): AudioFileError =>
  new AudioFileError(
    'unreadable',
    'The file became shorter while it was being read.',
    'Add the file again once nothing else writes to it.',
  );

/** A file is not the one any more that was opened: what was measured of it belongs to neither. */
export const changedMeanwhile = (): AudioFileError =>
  new AudioFileError(
    'unreadable',
    'The file changed while it was being read.',
    'Try again once nothing else writes to it.',
  );
