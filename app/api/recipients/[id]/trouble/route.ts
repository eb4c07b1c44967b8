import { ApiError } from '@/server/apiError';
import { takeText } from '@/server/receive';
import { recipientNamed } from '@/server/recipients';
import { json, respond } from '@/server/respond';
import { setTrouble } from '@/server/stationTrouble';

export const dynamic = 'force-dynamic';

interface Named {
  readonly params: Promise<{ readonly id: string }>;
}

/** Tells a simulated station to be slow, to drop the line, to be full, to answer late. */
export const PUT = (request: Request, { params }: Named): Promise<Response> =>
  respond(request, async () => {
    // Only for trials of senders: a server in use has no such switch.
    if (process.env['DENGUNG_FAULTS'] !== '1')
      throw new ApiError(
        404,
        'noFaults',
        'Faults are not simulated here.',
        'Start the server with DENGUNG_FAULTS=1.',
      );
    const { id } = recipientNamed((await params).id);
    const text = await takeText(request, 1_000);
    let wanted: unknown;
    try {
      wanted = JSON.parse(text);
    } catch {
      throw new ApiError(422, 'badTrouble', 'The body is no JSON.', 'Send {} to have it well again.');
    }
    return json(setTrouble(id, wanted));
  });
