import { array, boolean, object, string } from 'yup';
import { storedTargetSchema } from '@/core/check/schema';
import type { Target } from '@/core/check/target';

/** Somebody who takes deliveries, and what they ask of them. */
export interface Recipient {
  readonly id: string;
  readonly name: string;
  /** Who they are and what they take, a sentence or two. */
  readonly about: string;
  /** Loudness, true peak, form, silence at head and tail, length. */
  readonly target: Target;
  /** How files are to be called; `null`: as one likes. */
  readonly naming: Naming | null;
  /** The file is to say its loudness itself, and rightly. */
  readonly statesLoudness: boolean;
  /** What a delivery consists of, a file each; `null`: of one file. */
  readonly set: readonly SetPart[] | null;
}

/** A file of a delivery that consists of several. */
export interface SetPart {
  readonly name: string;
  /** A regular expression that the names of its files fit, and no others. */
  readonly pattern: string;
  readonly example: string;
  /** Loudness and true peak are asked of it; else only how the file is made. */
  readonly judged: boolean;
}

interface Naming {
  /** A regular expression that the whole name fits, ending included; capitals matter. */
  readonly pattern: string;
  /** The same in words. */
  readonly words: string;
  readonly example: string;
}

const isPattern = (text: string | undefined): boolean => {
  try {
    new RegExp(text ?? '', 'u');
    return true;
  } catch {
    return false;
  }
};

const text = (most: number) => string().defined().max(most);

const recipientShape = object({
  id: string()
    .required()
    .matches(/^[a-z0-9-]{1,60}$/, 'id is up to 60 small letters, digits and hyphens'),
  name: text(200).min(1),
  about: text(1_000),
  target: storedTargetSchema.required(),
  naming: object({
    pattern: text(200).test('pattern', 'pattern is no regular expression', isPattern),
    words: text(500),
    example: text(200),
  })
    .nullable()
    .default(undefined)
    .defined(),
  statesLoudness: boolean().required(),
  set: array()
    .of(
      object({
        name: text(100).min(1),
        pattern: text(200).test('pattern', 'pattern is no regular expression', isPattern),
        example: text(200),
        judged: boolean().required(),
      }),
    )
    .min(2, 'a set has at least two files')
    .max(20)
    .nullable()
    .default(null),
});

const fileShape = object({
  format: string().required().oneOf(['dengung-recipients-1']),
  recipients: array().of(recipientShape.required()).required().max(100),
});

/** Recipients as the text of a file: {@link readRecipients}. */
export const writeRecipients = (recipients: readonly Recipient[]): string =>
  `${JSON.stringify({ format: 'dengung-recipients-1', recipients }, null, 2)}\n`;

/** Reads a file of recipients. @returns them, or a sentence that says what is wrong */
export function readRecipients(text: string): readonly Recipient[] | { readonly error: string } {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return { error: 'This is no file of recipients: it is not JSON.' };
  }
  try {
    return fileShape.validateSync(data, { strict: true }).recipients as unknown as readonly Recipient[];
  } catch (error) {
    return {
      error: `This is no file of recipients: ${error instanceof Error ? error.message : 'it cannot be read'}.`,
    };
  }
}
