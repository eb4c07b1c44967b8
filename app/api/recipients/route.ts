import { recipients } from '@/server/recipients';
import { json, respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

export const GET = (request: Request): Promise<Response> =>
  respond(request, () => Promise.resolve(json({ recipients: recipients() })));
