import type { ReactNode } from 'react';
import { ProjectFrame } from '@/interface/shell/ProjectFrame';

export default async function ProjectLayout({
  children,
  params,
}: {
  children: ReactNode;
  params: Promise<{ id: string }>;
}) {
  const { id } = await params;
  return <ProjectFrame id={id}>{children}</ProjectFrame>;
}
