import { handOut } from '@/server/held';
import { respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

interface Named {
  readonly params: Promise<{ readonly token: string }>;
}

export const GET = (request: Request, { params }: Named): Promise<Response> =>
  respond(request, async () => handOut((await params).token));

/** Without this it would be answered by `GET`, which hands the file out. */
export const HEAD = (request: Request, { params }: Named): Promise<Response> =>
  respond(request, async () => handOut((await params).token, 'headers'));
