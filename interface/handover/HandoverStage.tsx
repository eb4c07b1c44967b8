'use client';

import AddIcon from '@mui/icons-material/Add';
import SaveIcon from '@mui/icons-material/SaveAlt';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { programmeLayout } from '@/core/audio/layout';
import { filesOf, type DeliveryFile } from '@/core/deliver/deliveryFiles';
import { staleReason } from '@/core/deliver/staleness';
import { addDelivery, setDeliveries } from '@/core/programme/edits/deliveries';
import { programmeFrames } from '@/core/programme/model';
import { dateText } from '@/core/text/dates';
import { clock } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { isOnItsWay } from '../session/deliveries/fileLine';
import { newId } from '../session/newId';
import { useLeftOut, useProject, useSession, useSessionState } from '../session/SessionContext';
import { FailureNote } from '../ui/FailureNote';
import { OneOf } from '../ui/OneOf';
import { PresetMenu } from '../ui/PresetMenu';
import { Resizable } from '../ui/Resizable';
import { canSaveToFolder } from '../ui/saveMany';
import { useRemembered } from '../ui/useRemembered';
import { DeliveryEditor } from './DeliveryEditor';
import { DeliveryItem } from './DeliveryItem';
import { SETS, STARTS } from './deliveryPresets';
import { FileDetails } from './FileDetails';
import { EditPanel } from './edit/EditPanel';
import { ReportMenu } from './ReportMenu';
import {
  cannotDeliver,
  canRender,
  renderDeliveries,
  saveRendered,
  waitingToBeSaved,
  type SaveTo,
} from './handoverActions';

/** Selected in place of a delivery. */
const BACK_TO_EDIT = 'back to the edit';
const SAVE_TO: Readonly<Record<SaveTo, string>> = { hand: 'One by one', folder: 'A folder', zip: 'One zip' };
const WAYS: readonly SaveTo[] = ['hand', 'folder', 'zip'];

/** Adds a delivery: as one of those it can begin as, or a whole set. */
function AddMenu({ onAdded }: { onAdded: (id: string) => void }) {
  const session = useSession();
  const { deliveries, name } = useProject();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button
        variant="outlined"
        startIcon={<AddIcon />}
        aria-haspopup="menu"
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Add a delivery
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {STARTS.map((start) => (
          <MenuItem
            dense
            key={start.name}
            onClick={() => {
              setAnchor(null);
              const id = newId();
              const { target } = session.project;
              session.do(`Add delivery: ${start.name}`, (project) =>
                addDelivery(project, start.make(id, target)),
              );
              onAdded(id);
            }}
          >
            {start.name}
          </MenuItem>
        ))}
      </Menu>
      <PresetMenu
        kind={SETS}
        shown="Sets"
        preset={{ name, deliveries }}
        onPreset={(set) => {
          // One that was just saved is what is there already.
          if (set.deliveries === deliveries) return;
          const own = set.deliveries.map((one) => ({ ...one, id: newId() }));
          session.do(`Deliveries of “${set.name}”`, (project) => setDeliveries(project, own));
        }}
      />
    </>
  );
}

/** What is handed over: a list of deliveries, rendered in one go, each file read back and measured. */
export function HandoverStage() {
  const session = useSession();
  const project = useProject();
  const programme = useSessionState((state) => state.programme);
  const measuring = useSessionState((state) => state.measuring !== null);
  const running = useStore(session.handover.store, (state) => state.running);
  const lines = useStore(session.handover.store, (state) => state.lines);
  const failure = useStore(session.handover.store, (state) => state.failure);
  const [unpicked, setUnpicked] = useRemembered<readonly string[]>('deliveries not rendered', []);
  const [to, setTo] = useRemembered<SaveTo>('deliveries saved to', 'hand');
  const [selected, setSelected] = useRemembered<string | null>('delivery selected', null);
  const [sideWidth, setSideWidth] = useRemembered('handover side width', 470);
  const { deliveries } = project;
  const date = dateText(new Date());
  const files = useMemo(
    () => new Map(deliveries.map((delivery) => [delivery.id, filesOf(project, delivery, date)])),
    [project, deliveries, date],
  );
  const filesNow = ({ delivery }: DeliveryFile) => files.get(delivery.id) ?? [];
  const frames = programmeFrames(project);
  const lost = useLeftOut();
  const muted = project.tracks.filter(
    (track) => track.muted && project.clips.some((clip) => clip.trackId === track.id),
  );
  const picked = deliveries.filter(({ id }) => !unpicked.includes(id));
  const cannot = cannotDeliver(session, picked);
  const wanted = picked.flatMap(({ id }) => files.get(id) ?? []);
  const waiting = frames > 0 && (measuring || programme === null);
  // Files of a delivery that was removed come back with it.
  const mine = [...lines.values()].filter(({ file }) => files.has(file.delivery.id));
  const going = mine.filter(isOnItsWay).length;
  const finished = mine.find(({ result }) => result !== null);
  // A file that is done is shown, unless something else is looked at.
  const toEdit = selected === BACK_TO_EDIT;
  const shownFile = selected === null ? (finished ?? null) : (lines.get(selected) ?? null);
  const shownDelivery =
    deliveries.find(({ id }) => id === selected) ??
    (toEdit || shownFile?.result ? null : (deliveries[0] ?? null));
  const toSave = waitingToBeSaved(session).length;
  return (
    <Resizable
      side="right"
      label="the delivery"
      size={sideWidth}
      least={300}
      leastMain={420}
      onSize={setSideWidth}
      main={
        <Box sx={{ flex: 1, overflow: 'auto', display: 'flex', flexDirection: 'column' }}>
          <Box sx={{ p: 2, pb: 1 }}>
            <Typography variant="h1">Hand over the programme</Typography>
            <Box sx={{ color: 'text.secondary', mt: 0.25 }}>
              {frames === 0
                ? 'There is nothing to render yet: place clips in Programme first.'
                : `${clock(frames / project.sampleRate)}, ${programmeLayout(project.layoutId).name}, ${project.sampleRate.toLocaleString('en')} Hz. Every file is read back from its first to its last sample and measured by itself.`}
            </Box>
          </Box>
          <Box
            role="toolbar"
            aria-label="Deliveries"
            sx={{ px: 2, pb: 1, display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}
          >
            <AddMenu onAdded={setSelected} />
            <Box sx={{ flex: 1 }} />
            <Box sx={{ fontSize: 12, color: 'text.secondary' }}>Saved to</Box>
            <OneOf
              label="Saved to"
              of={canSaveToFolder() ? WAYS : WAYS.filter((way) => way !== 'folder')}
              value={to}
              disabled={running}
              words={(each) => SAVE_TO[each]}
              onSelect={setTo}
            />
            {running ? (
              <Button variant="outlined" onClick={() => session.handover.cancel()}>
                Cancel all ({going})
              </Button>
            ) : (
              <Button
                variant="contained"
                disabled={!canRender(session) || cannot !== null}
                onClick={() => void renderDeliveries(session, picked, to)}
              >
                {waiting
                  ? 'Waiting for the measurement …'
                  : `Render and measure${wanted.length > 1 ? ` ${count(wanted.length, 'file')}` : ''}`}
              </Button>
            )}
          </Box>
          <Box sx={{ px: 2, display: 'flex', flexDirection: 'column', gap: 1, pb: 1 }}>
            {frames > 0 && cannot && deliveries.length > 0 && picked.length > 0 && (
              <Box role="alert" data-cannot sx={{ fontSize: 12.5, color: 'error.main' }}>
                {cannot}
              </Box>
            )}
            {lost.clips.length > 0 && (
              <FailureNote
                message={`${count(lost.clips.length, 'clip')} would be left out: the sound of ${lost.sources.join(', ')} is not there.`}
                hint="Relink the files in Sources, or mute or remove the clips, before handing over."
              />
            )}
            {muted.length > 0 && (
              <Alert severity="info" variant="outlined" sx={{ py: 0 }} data-muted>
                Muted, and so not in the files: {muted.map(({ name }) => name).join(', ')}.
              </Alert>
            )}
            {failure && <FailureNote message={failure.message} hint={failure.hint} />}
          </Box>
          <Box
            component="ul"
            aria-label="Deliveries"
            sx={{ m: 0, p: 0, borderTop: 1, borderColor: 'divider', bgcolor: 'background.paper' }}
          >
            {deliveries.map((delivery) => (
              <DeliveryItem
                key={delivery.id}
                delivery={delivery}
                files={files.get(delivery.id) ?? []}
                lines={lines}
                picked={!unpicked.includes(delivery.id)}
                selected={shownDelivery?.id === delivery.id}
                selectedFile={shownDelivery ? null : (shownFile?.file.key ?? null)}
                onPick={(on) =>
                  setUnpicked(on ? unpicked.filter((id) => id !== delivery.id) : [...unpicked, delivery.id])
                }
                onSelect={() => setSelected(delivery.id)}
                onFile={setSelected}
              />
            ))}
          </Box>
          {deliveries.length === 0 && (
            <Box sx={{ p: 2, color: 'text.secondary' }}>
              There is no delivery: add one, or take a set of them.
            </Box>
          )}
          <Box sx={{ p: 2, display: 'flex', alignItems: 'center', gap: 1.5, flexWrap: 'wrap' }}>
            {toSave > 1 && (
              <Button
                variant="outlined"
                startIcon={<SaveIcon />}
                onClick={() => waitingToBeSaved(session).forEach((key) => saveRendered(session, key))}
              >
                Save all {toSave} files
              </Button>
            )}
            <ReportMenu
              files={() =>
                mine.flatMap(({ file, result }) => {
                  const stale = result && staleReason(file, result.project, project, filesNow(file));
                  return result ? [{ ...result, file, stale }] : [];
                })
              }
            />
            <Button
              variant="outlined"
              aria-pressed={toEdit}
              onClick={() => setSelected(toEdit ? null : BACK_TO_EDIT)}
            >
              Back to the edit…
            </Button>
            <Box sx={{ color: 'text.secondary', fontSize: 12.5, flex: '1 1 240px' }}>
              Timeline, edit list, table of gains, markers, or the clips as media.
            </Box>
          </Box>
        </Box>
      }
    >
      <Box sx={{ flex: 1, overflow: 'auto', bgcolor: 'background.paper' }}>
        {toEdit ? (
          <EditPanel />
        ) : shownDelivery ? (
          <DeliveryEditor delivery={shownDelivery} files={files.get(shownDelivery.id) ?? []} />
        ) : shownFile?.result ? (
          <FileDetails
            line={shownFile}
            stale={staleReason(shownFile.file, shownFile.result.project, project, filesNow(shownFile.file))}
          />
        ) : (
          <Box sx={{ p: 2, color: 'text.secondary' }}>Select a delivery to change it.</Box>
        )}
      </Box>
    </Resizable>
  );
}
