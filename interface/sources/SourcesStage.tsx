'use client';

import { sourceKey } from '@/storage/measurements';
import PlaceIcon from '@mui/icons-material/LowPriority';
import FolderIcon from '@mui/icons-material/CreateNewFolderOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Typography from '@mui/material/Typography';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useMemo, useRef, useState } from 'react';
import { DECLARABLE, type Layout } from '@/core/audio/layout';
import { commonName, inChannelOrder } from '@/core/audio/channelNames';
import { appendSources } from '@/core/programme/edits/clips';
import { removeSources } from '@/core/programme/edits/project';
import type { Id, Source } from '@/core/programme/model';
import { DropArea } from '../parts/DropArea';
import { PickFiles } from '../parts/PickFiles';
import { count, ROLE_NAMES } from '../parts/words';
import { newId } from '../session/newId';
import { useProject, useSession, useSessionState } from '../session/SessionContext';
import { FIGURE_COLUMNS, GRID } from './columns';
import { ImportList } from './ImportList';
import { CutList } from './CutList';
import { LevelSources } from './LevelSources';
import { TrimMenu } from './TrimMenu';
import { SourceRow } from './SourceRow';

function PlaceMenu({ chosen }: { chosen: readonly Source[] }) {
  const session = useSession();
  const { tracks } = useProject();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const place = (trackId: Id, trackName: string): void => {
    setAnchor(null);
    const placements = chosen.map((source) => ({ clipId: newId(), sourceId: source.id }));
    session.do(`Place ${count(placements.length, 'clip')} on ${trackName}`, (project) =>
      appendSources(project, trackId, placements),
    );
  };
  return (
    <>
      <Button
        variant="outlined"
        disabled={chosen.length === 0}
        startIcon={<PlaceIcon />}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Place end to end on…
      </Button>
      <Menu
        anchorEl={anchor}
        open={anchor !== null}
        onClose={() => setAnchor(null)}
        slotProps={{ list: { dense: true } }}
      >
        {tracks.map((track) => (
          <MenuItem key={track.id} onClick={() => place(track.id, track.name)}>
            {track.name}
            <Box component="span" sx={{ ml: 2, color: 'text.secondary', fontSize: 12 }}>
              {ROLE_NAMES[track.role]}
            </Box>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** Mono sources in the order in which they were chosen become one of several channels. */
function CombineMenu({ chosen, onDone }: { chosen: readonly Source[]; onDone: () => void }) {
  const session = useSession();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const ordered = useMemo(() => inChannelOrder(chosen), [chosen]);
  const layouts = DECLARABLE.filter((layout) => layout.labels.length === chosen.length);
  const rates = new Set(chosen.map((source) => source.sampleRate));
  const fits =
    chosen.length > 1 &&
    chosen.every((source) => source.layout.labels.length === 1) &&
    rates.size === 1 &&
    layouts.length > 0;
  const combine = (layout: Layout): void => {
    setAnchor(null);
    const name = `${commonName(ordered.map((source) => source.name))} ${layout.name}`;
    onDone();
    void session.imports.combine(ordered, layout.id, name);
  };
  return (
    <>
      <Button
        color="inherit"
        disabled={!fits}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Put together as…
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {layouts.map((layout) => (
          <MenuItem key={layout.id} onClick={() => combine(layout)}>
            <Box>
              {layout.name}
              <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
                {ordered.map((source, i) => `${layout.labels[i]} ${source.name}`).join(', ')}
              </Box>
            </Box>
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

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
          leaves this machine. A cut (OpenTimelineIO or CMX 3600 list) is taken as well: drop it with its
          media.
        </Typography>
      </Box>
    </Box>
  );
}

/** All sound brought in, each with its level. */
export function SourcesStage() {
  const session = useSession();
  const { sources, clips } = useProject();
  const measurements = useSessionState((state) => state.sourceMeasurements);
  const missing = useSessionState((state) => state.missingAudio);
  const importing = useSessionState((state) => state.imports.length > 0 || state.cuts.length > 0);
  const [chosenIds, setChosenIds] = useState<ReadonlySet<Id>>(new Set());
  const [openIds, setOpenIds] = useState<ReadonlySet<Id>>(new Set());
  const scroller = useRef<HTMLDivElement>(null);
  const chosen = useMemo(() => sources.filter((source) => chosenIds.has(source.id)), [sources, chosenIds]);
  const clipCounts = useMemo(() => {
    const counts = new Map<Id, number>();
    for (const clip of clips) counts.set(clip.sourceId, (counts.get(clip.sourceId) ?? 0) + 1);
    return counts;
  }, [clips]);
  // eslint-disable-next-line react-hooks/incompatible-library -- the virtual list is not memoised by the compiler
  const rows = useVirtualizer({
    count: sources.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 45,
    getItemKey: (index) => sources[index]!.id,
    overscan: 8,
  });
  const toggle = (set: ReadonlySet<Id>, id: Id, on: boolean): Set<Id> => {
    const next = new Set(set);
    if (on) next.add(id);
    else next.delete(id);
    return next;
  };
  const remove = (): void => {
    const ids = new Set(chosen.map((source) => source.id));
    const used = clips.filter((clip) => ids.has(clip.sourceId)).length;
    session.do(
      `Remove ${count(ids.size, 'source')}${used > 0 ? ` and ${count(used, 'clip')}` : ''}`,
      (project) => removeSources(project, ids),
    );
    setChosenIds(new Set());
  };
  return (
    <DropArea label="Drop to bring these files in" onFiles={(files) => void session.addFiles(files)}>
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
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
        <PlaceMenu chosen={chosen} />
        <TrimMenu chosen={chosen} />
        <LevelSources chosen={chosen} />
        <CombineMenu chosen={chosen} onDone={() => setChosenIds(new Set())} />
        <Button color="inherit" disabled={chosen.length === 0} onClick={remove}>
          Remove
        </Button>
        <Box sx={{ ml: 'auto', fontSize: 12, color: 'text.secondary' }}>
          {chosen.length > 0
            ? `${chosen.length} of ${count(sources.length, 'source')} chosen`
            : count(sources.length, 'source')}
        </Box>
      </Box>
      <ImportList />
      <CutList />
      {sources.length === 0 ? (
        !importing && <Empty />
      ) : (
        <Box
          ref={scroller}
          role="table"
          aria-label="Sources"
          aria-rowcount={sources.length}
          // What is scrolled into sight does not hide under the head of the table.
          sx={{ flex: 1, minHeight: 0, overflow: 'auto', scrollPaddingTop: '40px' }}
        >
          <Box
            role="rowgroup"
            sx={{
              position: 'sticky',
              top: 0,
              zIndex: 2,
              bgcolor: 'background.default',
              borderBottom: 1,
              borderColor: 'divider',
            }}
          >
            <Box
              role="row"
              sx={{
                display: 'grid',
                gridTemplateColumns: GRID,
                columnGap: 1,
                px: 1,
                py: 0.5,
                alignItems: 'end',
                fontSize: 11,
                color: 'text.secondary',
                lineHeight: 1.2,
              }}
            >
              <Box role="columnheader">
                <Checkbox
                  size="small"
                  checked={chosen.length === sources.length}
                  indeterminate={chosen.length > 0 && chosen.length < sources.length}
                  onChange={(event) =>
                    setChosenIds(new Set(event.target.checked ? sources.map((source) => source.id) : []))
                  }
                  slotProps={{ input: { 'aria-label': 'Choose all sources' } }}
                  sx={{ p: 0.5 }}
                />
              </Box>
              <Box role="columnheader">Source</Box>
              <Box role="columnheader">Waveform</Box>
              <Box role="columnheader" sx={{ textAlign: 'right' }}>
                Length
              </Box>
              <Box role="columnheader">Format</Box>
              {FIGURE_COLUMNS.map(([key, title, unit]) => (
                <Box role="columnheader" key={key} sx={{ textAlign: 'right' }}>
                  {title}
                  <br />
                  {unit}
                </Box>
              ))}
              <Box role="columnheader" sx={{ textAlign: 'right' }}>
                Clips
              </Box>
              <Box role="columnheader" aria-label="Details" />
            </Box>
          </Box>
          <Box role="presentation" sx={{ height: rows.getTotalSize(), position: 'relative' }}>
            {rows.getVirtualItems().map((item) => {
              const source = sources[item.index]!;
              return (
                <Box
                  role="presentation"
                  key={item.key}
                  ref={rows.measureElement}
                  data-index={item.index}
                  sx={{ position: 'absolute', left: 0, right: 0 }}
                  style={{ transform: `translateY(${item.start}px)` }}
                >
                  <SourceRow
                    source={source}
                    measurement={measurements.get(sourceKey(source))}
                    missing={missing.has(source.audioKey)}
                    clips={clipCounts.get(source.id) ?? 0}
                    chosen={chosenIds.has(source.id)}
                    open={openIds.has(source.id)}
                    onChoose={(on) => setChosenIds(toggle(chosenIds, source.id, on))}
                    onOpen={(on) => setOpenIds(toggle(openIds, source.id, on))}
                  />
                </Box>
              );
            })}
          </Box>
        </Box>
      )}
    </DropArea>
  );
}
