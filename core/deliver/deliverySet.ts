import { array, object, string, ValidationError } from 'yup';
import type { Delivery } from '@/core/programme/delivery';
import { deliveryShape } from '@/core/programme/deliverySchema';

/** Deliveries under a name, to be used in other projects. */
export interface DeliverySet {
  readonly name: string;
  readonly deliveries: readonly Delivery[];
}

/** Says what a file of deliveries is, and which version of it this is. */
const FORMAT = 'dengung-deliveries-1';

const setShape = {
  name: string().trim().required('a set has a name').max(60, 'name is at most 60 letters'),
  deliveries: array()
    .of(deliveryShape.required())
    .required()
    .min(1, 'there is no delivery in it')
    .max(200, 'there are more than 200 deliveries in it'),
};

const schema = object({ format: string().required().oneOf([FORMAT], `format is ${FORMAT}`), ...setShape });

/** Deliveries as the text of a file. */
export const writeDeliveries = ({ name, deliveries }: DeliverySet): string =>
  `${JSON.stringify({ format: FORMAT, name, deliveries }, null, 2)}\n`;

/** Reads a file of deliveries. @returns a sentence that says what is wrong with it where it is none */
export function readDeliveries(text: string): DeliverySet | { readonly error: string } {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return { error: 'This is not a file of deliveries: it is not JSON.' };
  }
  try {
    schema.validateSync(json, { strict: true });
    const { name, deliveries } = json as DeliverySet;
    return { name, deliveries };
  } catch (error) {
    if (error instanceof ValidationError)
      return { error: `This is not a file of deliveries: ${error.message}.` };
    throw error;
  }
}

/** Whether something that was stored is a set of deliveries. */
export const isDeliverySet = (value: unknown): value is DeliverySet =>
  object(setShape).required().isValidSync(value, { strict: true });
