import type { Delivery } from '../delivery';
import type { Id, Project } from '../model';

/** Puts a delivery behind those there are. */
export const addDelivery = (project: Project, delivery: Delivery): Project => ({
  ...project,
  deliveries: [...project.deliveries, delivery],
});

export const changeDelivery = (project: Project, id: Id, change: Partial<Delivery>): Project => ({
  ...project,
  deliveries: project.deliveries.map((delivery) =>
    delivery.id === id ? { ...delivery, ...change } : delivery,
  ),
});

/** Puts another like it behind it. */
export const duplicateDelivery = (project: Project, id: Id, newId: Id): Project => ({
  ...project,
  deliveries: project.deliveries.flatMap((delivery) =>
    delivery.id === id ? [delivery, { ...delivery, id: newId }] : [delivery],
  ),
});

export const removeDelivery = (project: Project, id: Id): Project => ({
  ...project,
  deliveries: project.deliveries.filter((delivery) => delivery.id !== id),
});

/** Other deliveries in the place of those there are. */
export const setDeliveries = (project: Project, deliveries: readonly Delivery[]): Project => ({
  ...project,
  deliveries,
});
