'use client';

import { sourceKey } from '@/storage/measurements';
import FolderIcon from '@mui/icons-material/CreateNewFolderOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { removeSources } from '@/core/programme/edits/project';
import type { Id } from '@/core/programme/model';
import { DropArea } from '../ui/DropArea';
import { Resizable } from '../ui/Resizable';
import { useRemembered } from '../ui/useRemembered';
import { PickFiles } from '../ui/PickFiles';
import { ColumnMenu } from '../ui/table/ColumnMenu';
import { DataTable } from '../ui/table/DataTable';
import { useDataTable } from '../ui/table/useDataTable';
import { count } from '@/core/text/words';
import { changeView, loadView, SHEET_HEIGHTS, useViewSettings } from '../programme/viewSettings';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { sourceColumns, type SourceRow } from './columns';
import { SourceDetails } from './details/SourceDetails';
import { ImportList } from './ImportList';
import { AbsentTools } from './AbsentTools';
import { useSelectedSources } from './useSelectedSources';
import { CutList } from './CutList';
import { LevelSources } from './LevelSources';
import { CombineMenu, PlaceMenu } from './sourceMenus';
import { TrimMenu } from './TrimMenu';

function Empty() {
  return (
    <Box sx={{ flex: 1, display: 'grid', placeItems: 'center', p: 4 }}>
      <Box sx={{ textAlign: 'center', maxWidth: 460 }}>
        <Typography variant="h1" component="p">
          Drop audio files here
        </Typography>
        <Typography sx={{ mt: 1, color: 'text.secondary' }}>
          WAV, BW64, AIFF, CAF, FLAC, MP3, Ogg, Opus, AAC, or the sound of MP4, MOV, Matroska, WebM and
          transport streams; mono to 22.2, any sample rate. Each file is measured as it comes in; nothing
          leaves this machine. A timeline (OpenTimelineIO or CMX 3600 EDL) can be added as well: drop it with
          its media.
        </Typography>
      </Box>
    </Box>
  );
}

/** All sound brought in, each with its level. */
export function SourcesStage() {
  const session = useSession();
  const { id: projectId, sources, clips, target } = useProject();
  const measurements = useSessionState((state) => state.sourceMeasurements);
  const absent = useSessionState((state) => state.absent);
  const importing = useSessionState((state) => state.imports.length > 0 || state.cuts.length > 0);
  const listed = useRef<readonly Id[]>([]);
  const {
    ids: chosenIds,
    choose,
    set: setChosen,
  } = useSelectedSources(useCallback(() => listed.current, []));
  const [openIds, setOpenIds] = useState<ReadonlySet<Id>>(new Set());
  const { sheetHeights } = useViewSettings();
  useEffect(() => void loadView(), []);
  const [levelling, setLevelling] = useState(false);
  const [wanted, setWanted] = useRemembered(`sources ${projectId}`, '');
  const chosen = useMemo(() => sources.filter((source) => chosenIds.has(source.id)), [sources, chosenIds]);
  const all = useMemo((): SourceRow[] => {
    const counts = new Map<Id, number>();
    for (const clip of clips) counts.set(clip.sourceId, (counts.get(clip.sourceId) ?? 0) + 1);
    return sources.map((source) => ({
      source,
      sound: measurements.get(sourceKey(source)),
      absent: absent.missing.has(source.audioKey)
        ? 'missing'
        : (absent.unread.get(source.audioKey)?.message ?? null),
      clips: counts.get(source.id) ?? 0,
    }));
  }, [sources, clips, measurements, absent]);
  const found = useMemo(() => {
    const text = wanted.trim().toLowerCase();
    return all.filter(({ source: { name, folder } }) => `${folder}/${name}`.toLowerCase().includes(text));
  }, [all, wanted]);
  const toggle = (set: ReadonlySet<Id>, id: Id, on: boolean): Set<Id> => {
    const next = new Set(set);
    if (on) next.add(id);
    else next.delete(id);
    return next;
  };
  const everyShown = found.length > 0 && found.every(({ source }) => chosenIds.has(source.id));
  const columns = sourceColumns({
    limitDbtp: target.maxTruePeakDbtp,
    isChosen: (id) => chosenIds.has(id),
    onChoose: choose,
    isOpen: (id) => openIds.has(id),
    onOpen: (id, on) => setOpenIds(toggle(openIds, id, on)),
    head: (
      <Checkbox
        size="small"
        checked={everyShown}
        indeterminate={!everyShown && chosen.length > 0}
        onChange={(event) => {
          const next = new Set(chosenIds);
          for (const { source } of found) {
            if (event.target.checked) next.add(source.id);
            else next.delete(source.id);
          }
          setChosen(next);
        }}
        slotProps={{ input: { 'aria-label': 'Select all sources' } }}
        sx={{ p: 0.5 }}
      />
    ),
  });
  const model = useDataTable({ name: 'sources', columns, rows: found, keyOf: ({ source }) => source.id });
  useEffect(() => {
    listed.current = model.rows.map(({ source }) => source.id);
  }, [model.rows]);
  // As they are shown; what is chosen and not shown now comes after.
  const shown = model.rows.flatMap(({ source }) => (chosenIds.has(source.id) ? [source] : []));
  const inOrder = [...new Set([...shown, ...chosen])];
  const remove = (): void => {
    const ids = new Set(chosen.map((source) => source.id));
    const used = clips.filter((clip) => ids.has(clip.sourceId)).length;
    session.do(
      `Remove ${count(ids.size, 'source')}${used > 0 ? ` and ${count(used, 'clip')}` : ''}`,
      (project) => removeSources(project, ids),
    );
    setChosen([]);
  };
  return (
    <DropArea label="Drop to add these files" onFiles={(files) => void session.addFiles(files)}>
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          flexWrap: 'wrap',
          gap: 1,
          px: 2,
          py: 1,
          borderBottom: 1,
          borderColor: 'divider',
        }}
      >
        <PickFiles label="Add files" multiple onFiles={(files) => void session.addFiles(files)} />
        <PickFiles
          label="Add a folder"
          multiple
          folder
          variant="text"
          icon={<FolderIcon />}
          onFiles={(files) => void session.addFiles(files)}
        />
        <AbsentTools />
        <PlaceMenu chosen={inOrder} />
        <TrimMenu chosen={chosen} />
        <Button color="inherit" disabled={chosen.length === 0} onClick={() => setLevelling(true)}>
          Level…
        </Button>
        <CombineMenu chosen={chosen} onDone={() => setChosen([])} />
        <Button color="inherit" disabled={chosen.length === 0} onClick={remove}>
          Remove
        </Button>
        <Box role="status" sx={{ ml: 'auto', fontSize: 12, color: 'text.secondary' }}>
          {chosen.length > 0
            ? `${chosen.length} of ${count(sources.length, 'source')} selected`
            : found.length < sources.length
              ? `${found.length} of ${count(sources.length, 'source')} shown`
              : count(sources.length, 'source')}
        </Box>
        {sources.length > 1 && (
          <>
            <TextField
              label="Find"
              value={wanted}
              onChange={(event) => setWanted(event.target.value)}
              sx={{ width: 130 }}
            />
            <ColumnMenu model={model} />
          </>
        )}
      </Box>
      <Resizable
        side="bottom"
        label="the sheet"
        size={sheetHeights.sources ?? SHEET_HEIGHTS.sources}
        least={120}
        leastMain={160}
        onSize={(height) => changeView({ sheetHeights: { ...sheetHeights, sources: height } })}
        main={
          <>
            <ImportList />
            <CutList />
            {sources.length === 0 ? (
              !importing && <Empty />
            ) : (
              <DataTable
                label="Sources"
                model={model}
                rowHeight={45}
                rowProps={({ source }) => ({
                  'data-source': source.name,
                  sx: { fontSize: 13, bgcolor: chosenIds.has(source.id) ? 'action.selected' : undefined },
                })}
                details={({ source, sound }) =>
                  openIds.has(source.id) ? <SourceDetails source={source} sound={sound} /> : null
                }
                empty={<Box sx={{ p: 2, color: 'text.secondary' }}>No source matches.</Box>}
              />
            )}
          </>
        }
      >
        {levelling && chosen.length > 0 && (
          <LevelSources sources={chosen} onClose={() => setLevelling(false)} />
        )}
      </Resizable>
    </DropArea>
  );
}
