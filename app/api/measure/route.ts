import { measure } from '@/server/api';
import { respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

export const POST = (request: Request): Promise<Response> => respond(request, () => measure(request));
