import dynamic from 'next/dynamic';
import { useLoadedAhead } from '../ui/useLoadedAhead';

/** What opens under the faces comes when it is first opened, or once the page has nothing else to do. */
const LOADERS = {
  LevelSheet: () => import('./level/LevelSheet').then((parts) => parts.LevelSheet),
  ShiftSheet: () => import('./level/ShiftSheet').then((parts) => parts.ShiftSheet),
  PlanSheet: () => import('./plan/PlanSheet').then((parts) => parts.PlanSheet),
  PartsSheet: () => import('./sections/PartsSheet').then((parts) => parts.PartsSheet),
  DuckSheet: () => import('./duck/DuckSheet').then((parts) => parts.DuckSheet),
  RideSheet: () => import('./ride/RideSheet').then((parts) => parts.RideSheet),
  EvenSheet: () => import('./even/EvenSheet').then((parts) => parts.EvenSheet),
  ClicksSheet: () => import('./clicks/ClicksSheet').then((parts) => parts.ClicksSheet),
  PictureWindow: () => import('./picture/PictureWindow').then((parts) => parts.PictureWindow),
} as const;

export const LevelSheet = dynamic(LOADERS.LevelSheet);
export const ShiftSheet = dynamic(LOADERS.ShiftSheet);
export const PlanSheet = dynamic(LOADERS.PlanSheet);
export const PartsSheet = dynamic(LOADERS.PartsSheet);
export const DuckSheet = dynamic(LOADERS.DuckSheet);
export const RideSheet = dynamic(LOADERS.RideSheet);
export const EvenSheet = dynamic(LOADERS.EvenSheet);
export const ClicksSheet = dynamic(LOADERS.ClicksSheet);
export const PictureWindow = dynamic(LOADERS.PictureWindow);

export const useSheetsAhead = (): void => useLoadedAhead(LOADERS);
