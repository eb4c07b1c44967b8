import { boolean, number, object, ValidationError } from 'yup';
import { ApiError } from './apiError';
import { shared } from './shared';

/** What a simulated station can be told to do badly, so that senders can be tried out. */
export interface StationTrouble {
  /** It takes no more than so much a second; 0: as fast as it comes. */
  readonly bytesPerSecond: number;
  /** The line breaks after so many bytes of a piece, once; 0: it holds. */
  readonly dropAfterBytes: number;
  /** It has no room. */
  readonly full: boolean;
  /** It answers so much later, seconds. */
  readonly lateSeconds: number;
}

const NONE: StationTrouble = { bytesPerSecond: 0, dropAfterBytes: 0, full: false, lateSeconds: 0 };

const shape = object({
  bytesPerSecond: number().required().min(0).max(1e12),
  dropAfterBytes: number().required().min(0).max(1e15),
  full: boolean().required(),
  lateSeconds: number().required().min(0).max(600),
}).noUnknown();

const troubles = shared('trouble', () => new Map<string, StationTrouble>());

export const troubleOf = (id: string): StationTrouble => troubles.get(id) ?? NONE;

/** Tells a station what to do badly: any of the above; what is left out is well. */
export function setTrouble(id: string, wanted: unknown): StationTrouble {
  try {
    const trouble = shape.validateSync({ ...NONE, ...(wanted as object) }, { strict: true });
    troubles.set(id, trouble);
    return trouble;
  } catch (error) {
    throw new ApiError(
      ...([
        422,
        'badTrouble',
        error instanceof ValidationError ? `${error.message}.` : 'This is no trouble.',
      ] as const),
      'Send any of bytesPerSecond, dropAfterBytes, full, lateSeconds.',
    );
  }
}

/** Slows a piece down, or breaks its line off, as the station was told. @returns told of bytes as they come */
export function hindered(id: string, from: number): (bytes: number) => Promise<void> {
  let came = from;
  return async (bytes) => {
    const { bytesPerSecond, dropAfterBytes } = troubleOf(id);
    const before = came;
    came += bytes;
    if (bytesPerSecond > 0)
      await new Promise((resolve) => setTimeout(resolve, (1000 * bytes) / bytesPerSecond));
    if (dropAfterBytes > 0 && before < dropAfterBytes && came >= dropAfterBytes) {
      troubles.set(id, { ...troubleOf(id), dropAfterBytes: 0 });
      throw new ApiError(503, 'lineBroke', 'The line broke.', 'Ask how much came, and go on from there.');
    }
  };
}
