/** What the server answers, as OpenAPI 3.1; the tests hold the answers against it. */
export function openApi(version: string): Readonly<Record<string, unknown>> {
  const text = { type: 'string' };
  const number = { type: 'number' };
  const amount = { type: ['number', 'null'] };
  const flag = { type: 'boolean' };
  const list = (items: object) => ({ type: 'array', items });
  const object = (properties: Readonly<Record<string, object>>, more: object = {}) => ({
    type: 'object',
    properties,
    required: Object.keys(properties),
    ...more,
  });
  const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });
  const answer = (description: string, schema: object) => ({
    description,
    content: { 'application/json': { schema } },
  });
  const wrong = (description: string) => answer(description, ref('Error'));
  const WRONG = {
    '400': wrong('The body broke off.'),
    '401': wrong('The key is missing or wrong.'),
    '403': wrong('Another host or origin.'),
    '413': wrong('Too large.'),
    '415': wrong('The body is a form.'),
    '422': wrong('The file or a parameter cannot be used.'),
    '429': wrong('Too many wait already.'),
    '500': wrong('The server could not answer.'),
  };
  const inQuery = (name: string, description: string, required = false) => ({
    ...{ name, in: 'query', description, required, schema: text },
  });
  const inPath = (name: string) => ({ name, in: 'path', required: true, schema: text });
  const NAME = inQuery('name', 'What the file is called');
  const TARGET = inQuery('target', 'Ids of targets, parted by commas', true);
  const body = {
    required: true,
    description: 'The file itself',
    content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
  };
  const sound = (operationId: string, parameters: readonly object[], schema: object, summary: string) => ({
    post: {
      ...{ operationId, summary, parameters, requestBody: body },
      responses: { '200': answer('Done', schema), ...WRONG },
    },
  });
  const get = (operationId: string, summary: string, schema: object, parameters: readonly object[] = []) => ({
    ...{ operationId, summary, parameters },
    responses: { '200': answer('Done', schema), '403': WRONG['403'], '404': wrong('There is none.') },
  });
  const state = ref('DeliveryState');
  return {
    openapi: '3.1.0',
    info: {
      ...{ title: 'Dengung', version },
      description: 'Measures files, holds them against targets, levels them, and receives deliveries.',
    },
    paths: {
      '/api/health': { get: get('health', 'Whether it is there', ref('Health')) },
      '/api/targets': {
        get: get('targets', 'The targets that can be named', object({ targets: list(ref('Target')) })),
      },
      '/api/measure': sound(
        'measure',
        [
          NAME,
          { ...TARGET, required: false },
          inQuery('findings', '1: with what was found, for the targets'),
          inQuery('layout', 'id of the channel layout, where the file does not say it'),
        ],
        ref('Measurement'),
        'Measures a file',
      ),
      '/api/check': sound('check', [NAME, TARGET], ref('Check'), 'Holds a file against targets'),
      '/api/level': sound(
        'level',
        [
          NAME,
          TARGET,
          inQuery('limit', '1: with a limiter, so that the loudness is reached'),
          inQuery('format', '24 or float'),
        ],
        object({ report: ref('Levelled'), file: text }),
        'Brings a file to a target; it waits for ten minutes at `file`, and is gone once fetched',
      ),
      '/api/files/{token}': {
        get: {
          ...{ operationId: 'file', summary: 'A file that was made, once', parameters: [inPath('token')] },
          responses: {
            '200': { description: 'The file', content: { 'application/octet-stream': {} } },
            '404': wrong('There is none, or it was fetched.'),
          },
        },
      },
      '/api/recipients': {
        get: get(
          'recipients',
          'Who takes deliveries, and what they ask',
          object({ recipients: list(ref('Recipient')) }),
        ),
      },
      '/api/recipients/{id}/deliveries': {
        post: {
          ...{ operationId: 'openDelivery', summary: 'Opens a delivery', parameters: [inPath('id')] },
          requestBody: {
            required: true,
            content: {
              'application/json': {
                schema: {
                  ...{ type: 'object', required: ['name', 'bytes', 'sha256'] },
                  properties: { name: text, bytes: number, sha256: text, set: text },
                },
              },
            },
          },
          responses: { '201': answer('It may be sent', state), ...WRONG, '507': wrong('No room.') },
        },
      },
      '/api/recipients/{id}/deliveries/{delivery}': {
        get: get('deliveryState', 'How much of it came, and its receipt', state, [
          inPath('id'),
          inPath('delivery'),
        ]),
        put: {
          operationId: 'sendPiece',
          summary: 'A piece from `offset` on; with the last the file is measured, and the receipt is there',
          parameters: [inPath('id'), inPath('delivery'), inQuery('offset', 'Bytes that came before', true)],
          requestBody: body,
          responses: {
            '200': answer('It came', state),
            ...WRONG,
            '409': wrong('Not the next piece.'),
            '503': wrong('The line broke.'),
          },
        },
        delete: get('dropDelivery', 'Gives it up', object({ id: text }), [inPath('id'), inPath('delivery')]),
      },
      '/api/recipients/{id}/trouble': {
        put: {
          operationId: 'setTrouble',
          summary: 'Tells a simulated station to be slow, to drop the line, to be full, to answer late',
          parameters: [inPath('id')],
          requestBody: { required: true, content: { 'application/json': { schema: { type: 'object' } } } },
          responses: {
            '200': answer('As it is now', { type: 'object' }),
            '422': WRONG['422'],
            '404': wrong('There is none.'),
          },
        },
      },
    },
    components: {
      schemas: {
        Error: object({ code: text, message: text, hint: text }, { additionalProperties: false }),
        Health: object({
          ...{ status: { const: 'ok' }, software: text, version: text },
          queue: object({ running: number, waiting: number }),
        }),
        Target: object({
          id: text,
          name: text,
          source: text,
          integratedLufs: number,
          toleranceLu: number,
          maxTruePeakDbtp: number,
        }),
        Verdict: object({
          ...{ target: text, outcome: text, meets: { type: ['boolean', 'null'] } },
          reason: { type: ['string', 'null'] },
          figures: list(object({ figure: text, state: text, unit: text, deviation: amount })),
        }),
        Finding: object({ kind: text, from: number, to: number, weight: text, sentence: text }),
        Measurement: object({
          ...{ file: text, format: text, codec: text, sampleRate: number, channels: number, frames: number },
          ...{
            durationSeconds: number,
            integratedLufs: amount,
            truePeakDbtp: amount,
            loudnessRangeLu: amount,
          },
          ...{ maxMomentaryLufs: amount, maxShortTermLufs: amount, warnings: list(text) },
          verdicts: list(ref('Verdict')),
        }),
        Check: object({
          ...{ file: text, verdicts: list(ref('Verdict')), findings: list(ref('Finding')) },
          services: list(object({ id: text, gainDb: number, percent: number, listenerLufs: amount })),
        }),
        Levelled: object({
          file: text,
          target: text,
          gainDb: number,
          before: { type: 'object' },
          after: { type: 'object' },
          notes: list(text),
        }),
        Recipient: object({
          ...{ id: text, name: text, about: text, target: ref('Target'), statesLoudness: flag },
          naming: { type: ['object', 'null'] },
          set: { type: ['array', 'null'], items: { type: 'object' } },
        }),
        Requirement: object(
          { requirement: text, asked: text, found: text, meets: flag },
          { additionalProperties: false },
        ),
        Receipt: {
          type: 'object',
          required: ['number', 'recipient', 'accepted', 'at', 'sha256', 'requirements'],
          properties: {
            ...{ number: text, recipient: text, accepted: flag, at: text, sha256: text },
            requirements: list(ref('Requirement')),
            // Only where a delivery is of several files.
            set: list(object({ part: text, state: text }, { additionalProperties: false })),
          },
          additionalProperties: false,
        },
        DeliveryState: object(
          {
            id: text,
            received: number,
            bytes: number,
            receipt: { anyOf: [ref('Receipt'), { type: 'null' }] },
          },
          { additionalProperties: false },
        ),
      },
    },
  };
}
