import type { Id, Marker, Project } from '../model';

const inOrder = (markers: readonly Marker[]): Marker[] => [...markers].sort((a, b) => a.at - b.at);

export function addMarker(project: Project, marker: Marker): Project {
  return { ...project, markers: inOrder([...project.markers, { ...marker, at: Math.max(0, marker.at) }]) };
}

export function changeMarker(
  project: Project,
  markerId: Id,
  change: { readonly at?: number; readonly name?: string },
): Project {
  const markers = project.markers.map((marker) =>
    marker.id === markerId
      ? { ...marker, ...change, at: Math.max(0, Math.round(change.at ?? marker.at)) }
      : marker,
  );
  return { ...project, markers: inOrder(markers) };
}

export function removeMarker(project: Project, markerId: Id): Project {
  return { ...project, markers: project.markers.filter(({ id }) => id !== markerId) };
}
