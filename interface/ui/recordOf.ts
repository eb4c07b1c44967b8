import { lazy, object, type AnyObjectSchema } from 'yup';

/** A record of any names, each with such a value. */
export const recordOf = (value: AnyObjectSchema['fields'][string]) =>
  lazy((record: unknown) =>
    record === undefined
      ? object().optional()
      : object(
          Object.fromEntries(Object.keys(Object(record) as object).map((name) => [name, value])),
        ).required(),
  );
