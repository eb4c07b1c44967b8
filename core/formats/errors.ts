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
