import { deliveryState, dropDelivery, takePiece } from '@/server/deliveries';
import { recipientNamed } from '@/server/recipients';
import { respond } from '@/server/respond';

export const dynamic = 'force-dynamic';

interface Named {
  readonly params: Promise<{ readonly id: string; readonly delivery: string }>;
}

export const GET = (request: Request, { params }: Named): Promise<Response> =>
  respond(request, async () => {
    const { id, delivery } = await params;
    return deliveryState(recipientNamed(id), delivery);
  });

export const PUT = (request: Request, { params }: Named): Promise<Response> =>
  respond(request, async () => {
    const { id, delivery } = await params;
    return takePiece(request, recipientNamed(id), delivery);
  });

export const DELETE = (request: Request, { params }: Named): Promise<Response> =>
  respond(request, async () => {
    const { id, delivery } = await params;
    return dropDelivery(recipientNamed(id), delivery);
  });
