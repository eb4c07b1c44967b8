import { openApi } from '@/server/openApi';
import { json, respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

export const GET = (request: Request): Promise<Response> =>
  respond(request, () => Promise.resolve(json(openApi(process.env['DENGUNG_VERSION'] ?? ''))));
