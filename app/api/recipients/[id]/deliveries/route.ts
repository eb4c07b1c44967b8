import { openDelivery } from '@/server/deliveries';
import { recipientNamed } from '@/server/recipients';
import { respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

interface Named {
  readonly params: Promise<{ readonly id: string }>;
}

export const POST = (request: Request, { params }: Named): Promise<Response> =>
  respond(request, async () => openDelivery(request, recipientNamed((await params).id)));
