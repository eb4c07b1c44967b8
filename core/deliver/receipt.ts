import { array, boolean, object, string } from 'yup';

/** One of the things that a recipient asks for, and what the file has. */
interface RequirementMet {
  readonly requirement: string;
  readonly asked: string;
  readonly found: string;
  readonly meets: boolean;
}

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
}

const text = () => string().defined().max(2_000);

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
}).noUnknown();

export const isReceipt = (value: unknown): value is Receipt =>
  receiptSchema.isValidSync(value, { strict: true });

/** A receipt in a sentence. */
export function receiptWords({ accepted, recipient, number: told, requirements }: Receipt): string {
  const missed = requirements.filter(({ meets }) => !meets);
  if (accepted) return `Accepted by ${recipient}, receipt ${told}.`;
  return `Not accepted by ${recipient}, receipt ${told}: ${missed.map(({ requirement, asked, found }) => `${requirement.toLowerCase()} is ${found}, asked for: ${asked}`).join('; ')}.`;
}
