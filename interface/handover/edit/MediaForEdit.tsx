import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { sum } from 'd3-array';
import { useMemo } from 'react';
import { useStore } from 'zustand';
import type { WriteFormat } from '@/core/audio/pcm';
import { editMedia, type EditMediaWish } from '@/core/deliver/editMedia';
import { count } from '@/core/text/words';
import { NumberField } from '../../editing/NumberField';
import { isOnItsWay } from '../../session/deliveries/fileLine';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { FailureNote } from '../../ui/FailureNote';
import { OneOf } from '../../ui/OneOf';
import { ProgressLine } from '../../ui/ProgressLine';
import { canSaveToFolder } from '../../ui/saveMany';
import { useRemembered } from '../../ui/useRemembered';
import { canRender } from '../handoverActions';
import { renderMedia } from './editForms';
import { Said } from './Said';

const HANDLES = { name: 'Handles', min: 0, max: 60, unit: 's' };
const PER = { clip: 'A file a clip', track: 'A file a track' } as const;
const GAINS = { rendered: 'In the files', left: 'Told by the cut' } as const;
const DEPTHS: readonly WriteFormat[] = ['s24', 'f32'];
const DEPTH_WORDS: Readonly<Record<WriteFormat, string>> = { s16: '16-bit', s24: '24-bit', f32: 'Float' };
const USUAL: EditMediaWish = { per: 'clip', handleSeconds: 2, gains: 'rendered', depth: 's24' };

/** How far the media are, and what went wrong with some of them. */
function Underway() {
  const session = useSession();
  const { running, lines, done: far, failure } = useStore(session.mediaForEdit.store);
  const all = [...lines.values()];
  if (all.length === 0) return null;
  const done = all.filter(({ state }) => state === 'done').length;
  const wrong = all.filter(({ state, result }) => state === 'failed' || (result?.wrong.length ?? 0) > 0);
  const left = all.filter(isOnItsWay).length;
  const cancelled = all.filter(({ state }) => state === 'cancelled').length;
  const parts = all.map((line) => (isOnItsWay(line) ? (far.get(line.file.key) ?? 0) / 2 : 1));
  return (
    <>
      {running ? (
        <ProgressLine
          label={`Media: ${done} of ${all.length} files`}
          done={sum(parts) / all.length}
          onCancel={() => session.mediaForEdit.cancel()}
        />
      ) : (
        <Box role="status" data-media-done={done}>
          {done} of {count(all.length, 'file')} written and read back
          {cancelled > 0 && `, ${cancelled} cancelled`}
          {left === 0 &&
            cancelled === 0 &&
            done === all.length &&
            ', with a timeline and an edit list that point to them'}
          .
        </Box>
      )}
      {failure && <FailureNote message={failure.message} hint={failure.hint} />}
      {wrong.slice(0, 8).map(({ file, failure: why, result }) => (
        <FailureNote
          key={file.key}
          message={`${file.name}: ${why?.message ?? result!.wrong.join(' ')}`}
          hint={why?.hint ?? 'Select float, or leave the gains to the cut.'}
        />
      ))}
      {wrong.length > 8 && <Box>… and {wrong.length - 8} more.</Box>}
    </>
  );
}

/** The clips or tracks as files, with a cut that points to them. */
export function MediaForEdit() {
  const session = useSession();
  const project = useProject();
  const running = useStore(session.mediaForEdit.store, (state) => state.running);
  useSessionState((state) => state.measuring !== null);
  const [wish, setWish] = useRemembered<EditMediaWish>('media for the edit', USUAL);
  const media = useMemo(() => editMedia(project, wish), [project, wish]);
  const change = (part: Partial<EditMediaWish>): void => setWish({ ...wish, ...part });
  const disabled = running || media.files.length === 0 || !canRender(session);
  return (
    <>
      <Box>
        Broadcast WAV with time stamps, in the programme’s rate and layout, in folders by track, each read
        back; beside them a timeline and an edit list that point to them.
      </Box>
      <OneOf
        label="Files"
        of={['clip', 'track'] as const}
        value={wish.per}
        disabled={running}
        words={(each) => PER[each]}
        onSelect={(per) => change({ per })}
      />
      {wish.per === 'clip' && (
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'flex-end', flexWrap: 'wrap' }}>
          <NumberField
            label="Handles, s"
            value={wish.handleSeconds}
            range={HANDLES}
            disabled={running}
            onValue={(handleSeconds) => change({ handleSeconds })}
          />
          <Box>
            <Box sx={{ fontSize: 12, color: 'text.secondary' }}>Gains</Box>
            <OneOf
              label="Gains"
              of={['rendered', 'left'] as const}
              value={wish.gains}
              disabled={running}
              words={(each) => GAINS[each]}
              onSelect={(gains) => change({ gains })}
            />
          </Box>
        </Box>
      )}
      <OneOf
        label="Samples"
        of={DEPTHS}
        value={wish.depth}
        disabled={running}
        words={(each) => DEPTH_WORDS[each]}
        onSelect={(depth) => change({ depth })}
      />
      <Said sentences={media.said} />
      <Box sx={{ display: 'flex', gap: 1 }}>
        {canSaveToFolder() && (
          <Button
            variant="contained"
            disabled={disabled}
            onClick={() => void renderMedia(session, media, 'folder')}
          >
            {count(media.files.length, 'file')} to a folder
          </Button>
        )}
        <Button
          variant={canSaveToFolder() ? 'outlined' : 'contained'}
          disabled={disabled}
          onClick={() => void renderMedia(session, media, 'zip')}
        >
          {count(media.files.length, 'file')} as one zip
        </Button>
      </Box>
      <Underway />
    </>
  );
}
