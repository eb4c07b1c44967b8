'use client';

import Button, { type ButtonProps } from '@mui/material/Button';
import type { MouseEvent } from 'react';
import type { StageName } from './stageNames';

export const stagePath = (projectId: string, stage: StageName): string => `/project/${projectId}/${stage}`;

/** Shows another stage of the project that is open: within the page, without asking the server for anything. */
export function goToStage(path: string): void {
  window.history.pushState(null, '', path);
}

interface Props extends Omit<ButtonProps<'a'>, 'href'> {
  readonly projectId: string;
  readonly stage: StageName;
}

/** A button that is a link to a stage of the project that is open. */
export function StageLink({ projectId, stage, ...button }: Props) {
  const path = stagePath(projectId, stage);
  const onClick = (event: MouseEvent): void => {
    // With a key held it opens elsewhere, as every link does.
    if (event.button !== 0 || event.metaKey || event.ctrlKey || event.shiftKey || event.altKey) return;
    event.preventDefault();
    goToStage(path);
  };
  return <Button {...button} component="a" href={path} onClick={onClick} />;
}
