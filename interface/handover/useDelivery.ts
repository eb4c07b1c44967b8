import { changeDelivery } from '@/core/programme/edits/deliveries';
import type { Delivery } from '@/core/programme/delivery';
import { useSession } from '../session/SessionContext';

/** Changes a delivery as one named step; what is typed letter by letter is one step. */
export type ChangeDelivery = (what: string, change: Partial<Delivery>, typing?: boolean) => void;

/** @param what of the delivery: the step is called “Delivery: what” */
export function useDelivery({ id }: Pick<Delivery, 'id'>): ChangeDelivery {
  const session = useSession();
  return (what, change, typing = false) =>
    session.do(
      `Delivery: ${what}`,
      (project) => changeDelivery(project, id, change),
      typing ? `delivery ${id} ${Object.keys(change).join()}` : undefined,
    );
}
