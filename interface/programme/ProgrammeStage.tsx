'use client';

import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import useMediaQuery from '@mui/material/useMediaQuery';
import {
  createContext,
  memo,
  use,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type RefObject,
} from 'react';
import { programmeFrames } from '@/core/programme/model';
import { DropArea } from '../ui/DropArea';
import { Later } from '../ui/Later';
import { Resizable } from '../ui/Resizable';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { shownProject } from '../session/state';
import { placeSources } from '../session/placing';
import { CutList } from '../sources/CutList';
import { ImportList } from '../sources/ImportList';
import { Arrange, laneAt } from './arrange';
import { Ladder } from './ladder/Ladder';
import { Lanes } from './lanes/Lanes';
import { Ledger } from './ledger/Ledger';
import {
  ClicksSheet,
  DuckSheet,
  EvenSheet,
  LevelSheet,
  PartsSheet,
  PictureWindow,
  PlanSheet,
  RideSheet,
  ShiftSheet,
  useSheetsAhead,
} from './sheets';
import { SideSheet } from './side/SideSheet';
import { changeView, loadView, SHEET_HEIGHTS, useViewSettings, type Sheet } from './viewSettings';
import { ProgrammeMeter } from './meters/ProgrammeMeter';
import { Skyline, SKYLINE_HEIGHT } from './Skyline';
import { Transport } from './transport/Transport';
import type { SheetActions } from './useStageActions';
import { useLaneView, type LaneView } from './lanes/useLaneView';
import { StageLink } from '../shell/StageLink';

/** So much stays for the face over a sheet: the skyline, the ruler and two lanes, CSS pixels. */
const LEAST_FACE = 290;
/** The same without the skyline, and the height of the window under which it gives way to a sheet, CSS pixels. */
const LEAST_LANES = 176;
const LOW_WINDOW = 640;

function EmptyHint() {
  const { id, sources } = useProject();
  return (
    <Box sx={{ px: 2, py: 1.5, borderBottom: 1, borderColor: 'divider' }}>
      <Typography variant="h2">Nothing is placed yet</Typography>
      <Typography variant="body2" sx={{ color: 'text.secondary' }}>
        {sources.length === 0
          ? 'Drop audio files anywhere here, or '
          : 'Drag sources from the right onto a track, or '}
        <StageLink projectId={id} stage="sources" sx={{ verticalAlign: 'baseline', p: 0 }}>
          {sources.length === 0 ? 'add files' : 'place several end to end'}
        </StageLink>{' '}
        in Sources.
      </Typography>
    </Box>
  );
}

/** What the lanes show; it changes with every scroll, and only what draws it follows. */
const ViewContext = createContext<LaneView | null>(null);

const useView = (): LaneView => use(ViewContext)!;

const ViewedSkyline = () => <Skyline view={useView()} />;
const ViewedLanes = ({ sheetActions }: { sheetActions: SheetActions }) => (
  <Lanes view={useView()} sheetActions={sheetActions} />
);

interface Props {
  readonly sheetActions: SheetActions;
  readonly gainField: RefObject<HTMLInputElement | null>;
  readonly sheet: Exclude<Sheet, 'sources'> | null;
  readonly onClose: () => void;
}

/** The face with the sheets around it, each as large as it was made. Scrolling does not draw it anew. */
const Faces = memo(function Faces({ sheetActions, gainField, sheet, onClose }: Props) {
  const isEmpty = useSessionState((state) => shownProject(state).clips.length === 0);
  const { big, face, sideWidth, sheetHeights } = useViewSettings();
  const isLow = useMediaQuery(`(max-height: ${LOW_WINDOW}px)`);
  const skyline = !big && !(isLow && sheet !== null);
  const sheets = {
    clips: <LevelSheet onClose={onClose} onFindParts={sheetActions.findParts} />,
    parts: <PartsSheet onClose={onClose} />,
    duck: <DuckSheet onClose={onClose} />,
    ride: <RideSheet onClose={onClose} />,
    even: <EvenSheet onClose={onClose} />,
    clicks: <ClicksSheet onClose={onClose} />,
    plan: <PlanSheet onClose={onClose} />,
    programme: <ShiftSheet onClose={onClose} />,
  };
  return (
    <Resizable
      side="right"
      label="the side sheet"
      size={sideWidth}
      least={220}
      leastMain={480}
      onSize={(width) => changeView({ sideWidth: width })}
      main={
        <Resizable
          side="bottom"
          label="the sheet"
          size={(sheet && (sheetHeights[sheet] ?? SHEET_HEIGHTS[sheet])) ?? 0}
          least={120}
          leastMain={big ? 120 : skyline ? LEAST_FACE : LEAST_LANES}
          onSize={(height) => sheet && changeView({ sheetHeights: { ...sheetHeights, [sheet]: height } })}
          main={
            <>
              {skyline && (
                <Box
                  sx={{
                    display: 'flex',
                    flex: 'none',
                    gap: 1.5,
                    px: 1.5,
                    pt: 0.5,
                    pb: 0.75,
                    borderBottom: 1,
                    borderColor: 'divider',
                  }}
                >
                  <ViewedSkyline />
                  <ProgrammeMeter height={SKYLINE_HEIGHT} />
                </Box>
              )}
              <ImportList />
              <CutList />
              {isEmpty && <EmptyHint />}
              {face === 'lanes' && <ViewedLanes sheetActions={sheetActions} />}
              {face === 'ledger' && <Ledger sheetActions={sheetActions} />}
              {face === 'ladder' && <Ladder sheetActions={sheetActions} />}
            </>
          }
        >
          {sheet && sheets[sheet]}
        </Resizable>
      }
    >
      {!big && (
        <Later>
          <SideSheet
            gainField={gainField}
            onOpenLevel={sheetActions.levelClips}
            onFindParts={sheetActions.findParts}
          />
        </Later>
      )}
    </Resizable>
  );
});

// Neither follows what the lanes show.
const ShownPicture = memo(function ShownPicture() {
  return useViewSettings().picture.shown ? <PictureWindow /> : null;
});
const StillTransport = memo(Transport);

/** Where clips are laid out, levelled and listened to. */
export function ProgrammeStage() {
  const session = useSession();
  const project = useProject();
  useEffect(() => void loadView(), []);
  useSheetsAhead();
  const gainField = useRef<HTMLInputElement>(null);
  const [sheet, setSheet] = useState<Props['sheet']>(null);
  const trackIds = useMemo(() => project.tracks.map(({ id }) => id), [project.tracks]);
  const view = useLaneView(programmeFrames(project) / project.sampleRate, trackIds);
  const close = useCallback(() => setSheet(null), []);
  const sheetActions = useMemo(
    (): SheetActions => ({
      editGain: () => {
        changeView({ big: false });
        // The field appears with the selection, one render later.
        requestAnimationFrame(() => gainField.current?.focus());
      },
      levelClips: () => setSheet('clips'),
      levelProgramme: () => setSheet('programme'),
      plan: () => setSheet('plan'),
      findParts: () => setSheet('parts'),
      duck: () => setSheet('duck'),
      ride: () => setSheet('ride'),
      evenOut: () => setSheet('even'),
      findClicks: () => setSheet('clicks'),
      closeSheet: sheet === null ? null : close,
    }),
    [sheet, close],
  );
  const scale = useRef(view.pixelsPerSecond);
  useEffect(() => {
    scale.current = view.pixelsPerSecond;
  }, [view.pixelsPerSecond]);
  /** Files dropped on a lane are placed there; where there is no track, one is made for them. */
  const drop = async (files: File[], at: { x: number; y: number }): Promise<void> => {
    const { tracks, sampleRate } = session.project;
    const place = tracks.length === 0 ? { trackId: null, start: 0 } : laneAt(at, sampleRate, scale.current);
    const sources = await session.addFiles(files);
    const there = place?.trackId == null || session.project.tracks.some(({ id }) => id === place.trackId);
    if (place && there) placeSources(session, sources, place);
  };
  const faces = useMemo(
    () => (
      <Arrange scale={scale}>
        <Faces sheetActions={sheetActions} gainField={gainField} sheet={sheet} onClose={close} />
      </Arrange>
    ),
    [sheetActions, sheet, close],
  );
  return (
    <DropArea
      label="Drop on a track to place the files there, elsewhere to add them as sources"
      onFiles={(files, at) => void drop(files, at)}
    >
      <StillTransport sheetActions={sheetActions} />
      <ViewContext value={view}>{faces}</ViewContext>
      <ShownPicture />
    </DropArea>
  );
}
