import { targets } from '@/server/api';
import { respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

export const GET = (request: Request): Promise<Response> => respond(request, targets);
