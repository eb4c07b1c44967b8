import { array, boolean, object, string } from 'yup';

/** One of the things that a recipient asks for, and what the file has. */
interface RequirementMet {
  readonly requirement: string;
  readonly asked: string;
  readonly found: string;
  readonly meets: boolean;
}

/** How far a file of a delivery is that consists of several. */
export type SetPartState = 'accepted' | 'notAccepted' | 'missing';

/** What a recipient answers to a file that it has measured itself. */
export interface Receipt {
  /** The recipient's own. */
  readonly number: string;
  /** Its name. */
  readonly recipient: string;
  readonly accepted: boolean;
  /** Local time of the recipient as “2026-01-31 21:04:00”. */
  readonly at: string;
  /** Of what arrived, in hexadecimal. */
  readonly sha256: string;
  readonly requirements: readonly RequirementMet[];
  /** Where a delivery consists of several files: how far each of them is; else left out. */
  readonly set?: readonly { readonly part: string; readonly state: SetPartState }[];
}

const text = () => string().defined().max(2_000);

const oneState = () => string<SetPartState>().required().oneOf(['accepted', 'notAccepted', 'missing']);

/** A receipt as it comes over the line or out of storage. */
export const receiptSchema = object({
  number: text().min(1),
  recipient: text(),
  accepted: boolean().required(),
  at: text(),
  sha256: string()
    .required()
    .matches(/^[0-9a-f]{64}$/),
  requirements: array()
    .of(
      object({ requirement: text(), asked: text(), found: text(), meets: boolean().required() }).noUnknown(),
    )
    .required()
    .max(100),
  set: array()
    .of(object({ part: text(), state: oneState() }).noUnknown())
    .max(20)
    .optional()
    .default(undefined),
}).noUnknown();

export const isReceipt = (value: unknown): value is Receipt =>
  receiptSchema.isValidSync(value, { strict: true });

/** What a delivery of several files still waits for, a sentence; `null` where it waits for nothing, or is of one file. */
export function setWords({ set }: Receipt): string | null {
  if (!set) return null;
  const open = set.filter(({ state }) => state !== 'accepted');
  if (open.length === 0) return 'The set is complete.';
  const said = open.map(
    ({ part, state }) => `${part} ${state === 'missing' ? 'is missing' : 'is not accepted'}`,
  );
  return `The set is not complete: ${said.join(', ')}.`;
}

/** A receipt in a sentence, or two. */
export function receiptWords(receipt: Receipt): string {
  const { accepted, recipient, number: told, requirements } = receipt;
  const missed = requirements.filter(({ meets }) => !meets);
  const set = setWords(receipt);
  const more = set === null ? '' : ` ${set}`;
  if (accepted) return `Accepted by ${recipient}, receipt ${told}.${more}`;
  return `Not accepted by ${recipient}, receipt ${told}: ${missed.map(({ requirement, asked, found }) => `${requirement.toLowerCase()} is ${found}, asked for: ${asked}`).join('; ')}.${more}`;
}
