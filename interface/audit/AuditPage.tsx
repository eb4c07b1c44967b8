'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import InputAdornment from '@mui/material/InputAdornment';
import SearchIcon from '@mui/icons-material/Search';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { useStore } from 'zustand';
import { PROGRAMME_LAYOUTS } from '@/core/audio/layout';
import { addTarget, removeTarget, targetsOf } from '@/core/programme/edits/check';
import { startHistory } from '@/core/programme/history';
import { newProject } from '@/core/programme/newProject';
import { count } from '@/core/text/words';
import { storageError } from '@/storage/failure';
import { saveProject } from '@/storage/projects';
import { ThresholdsMenu } from '../check/ThresholdsMenu';
import { bringAlong } from '../session/bringAlong';
import { newId } from '../session/newId';
import { TargetMenu } from '../targets/TargetMenu';
import { DropArea } from '../ui/DropArea';
import { OneOf } from '../ui/OneOf';
import { FailureNote } from '../ui/FailureNote';
import { PickFiles } from '../ui/PickFiles';
import { ProgressLine } from '../ui/ProgressLine';
import { Resizable } from '../ui/Resizable';
import { remember, useRemembered } from '../ui/useRemembered';
import { Audit } from './audit';
import { auditRow, type AuditFile, type AuditRow } from './auditFile';
import { FileDetails } from './FileDetails';
import { FileTable } from './FileTable';
import { MendRun } from './mendRun';
import { MendSheet } from './MendSheet';
import { ReportMenu } from './ReportMenu';

const SHOWN = ['all', 'misses', 'meets', 'failed'] as const;
type Shown = (typeof SHOWN)[number];
const SHOWN_NAMES: Readonly<Record<Shown, string>> = {
  all: 'All',
  misses: 'Miss',
  meets: 'Meet',
  failed: 'Failed',
};

function Empty() {
  return (
    <Box
      sx={{
        ...{ flex: 1, display: 'grid', placeItems: 'center', textAlign: 'center', m: 2, minHeight: 260 },
        ...{ color: 'text.secondary', border: '1px dashed', borderColor: 'divider', borderRadius: 1 },
      }}
    >
      <Box>
        <Typography variant="h2" component="p" sx={{ color: 'text.primary' }}>
          Drop finished files here, or a folder of them
        </Typography>
        <Box sx={{ mt: 1 }}>
          See which meet their target, what is wrong with the others and where, and what mends them. Nothing
          leaves this machine, and your files are not changed.
        </Box>
      </Box>
    </Box>
  );
}

/** What is under way with all files together. */
function Overall({ audit, files }: { audit: Audit; files: readonly AuditFile[] }) {
  const busy = files.filter(({ work }) => work !== null && work !== 'mending');
  if (busy.length === 0) return null;
  const done = files.length - busy.length + busy.reduce((sum, one) => sum + one.done, 0);
  return (
    <ProgressLine
      label={`${files.length - busy.length} of ${count(files.length, 'file')}`}
      done={done / files.length}
      onCancel={() => audit.cancelAll()}
    />
  );
}

/** Finished files against their targets: verdicts, findings, and what mends them; one file or a pile of them. */
export function AuditPage() {
  const router = useRouter();
  const [audit] = useState(() => new Audit());
  const [run] = useState(() => new MendRun(audit));
  useEffect(
    () => () => {
      run.cancel();
      audit.close();
    },
    [audit, run],
  );
  const state = useStore(audit.store);
  const { files } = state;
  const targets = useMemo(() => targetsOf(state), [state]);
  const rows = useMemo(() => files.map((file) => auditRow(file, targets)), [files, targets]);
  const [shown, setShown] = useState<Shown>('all');
  const [search, setSearch] = useState('');
  const [selected, setSelected] = useState<string | null>(null);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const [mending, setMending] = useState(false);
  const [trouble, setTrouble] = useState<{ message: string; hint: string } | null>(null);
  const [height, setHeight] = useRemembered('audit details height', 460);
  const visible = useMemo(
    () =>
      rows.filter(
        ({ standing, file }) =>
          (shown === 'all' || standing === shown) &&
          `${file.folder}/${file.file.name}`.toLowerCase().includes(search.trim().toLowerCase()),
      ),
    [rows, shown, search],
  );
  const entry = files.find(({ id }) => id === selected) ?? files[0];
  const onPick = useCallback(
    (id: string) =>
      setPicked((now) => {
        const next = new Set(now);
        if (!next.delete(id)) next.add(id);
        return next;
      }),
    [],
  );
  const add = (added: readonly File[]): void => {
    const first = audit.add(added);
    if (first !== null) setSelected(first);
  };
  const pickedRows = rows.filter(({ id }) => picked.has(id));
  const toMend: readonly AuditRow[] = pickedRows.length > 0 ? pickedRows : visible;
  /** @param against what it is compared with there */
  const openProject = async (
    { file, checked }: AuditFile,
    against: AuditFile | null = null,
  ): Promise<void> => {
    const { target, otherTargets, thresholds } = state;
    const { layout, sampleRate } = checked!.format;
    const project = newProject(newId(), file.name.replace(/\.[^.]+$/, ''), newId());
    const fits = PROGRAMME_LAYOUTS.some(({ id }) => id === layout.id);
    try {
      await saveProject(
        startHistory({
          ...{ ...project, target, otherTargets, thresholds, sampleRate },
          ...(fits && { layoutId: layout.id }),
        }),
      );
      bringAlong(project.id, { files: [file], placed: true, against: against?.file ?? null });
      if (against) remember('check face', 'compare');
      router.push(`/project/${project.id}/check`);
    } catch (error) {
      setTrouble(storageError(error));
    }
  };
  return (
    <DropArea label="Drop finished files to audit them" onFiles={add}>
      <Box sx={{ height: 'calc(100dvh - 44px)', display: 'flex', flexDirection: 'column', minWidth: 840 }}>
        <Box
          role="toolbar"
          aria-label="Audit"
          sx={{
            ...{
              display: 'flex',
              alignItems: 'center',
              gap: 1,
              px: 1.5,
              py: 0.75,
              flex: 'none',
              flexWrap: 'wrap',
            },
            ...{ borderBottom: 1, borderColor: 'divider' },
          }}
        >
          <Typography variant="h1" sx={{ mr: 0.5 }}>
            Audit
          </Typography>
          <TargetMenu
            target={state.target}
            onChoose={(target) => audit.checkBy((by) => ({ ...removeTarget(by, target.id), target }))}
          />
          <TargetMenu
            target={state.target}
            adding
            onChoose={(target) => audit.checkBy((by) => addTarget(by, target))}
          />
          {files.length > 0 && <Overall audit={audit} files={files} />}
          <Box sx={{ flex: 1 }} />
          <ThresholdsMenu by={state} change={(_, edit) => audit.checkBy(edit)} />
          <ReportMenu audit={audit} rows={visible} />
          <PickFiles label="Files" name="Select files" multiple onFiles={add} />
          <PickFiles label="Folder" name="Select a folder" variant="outlined" folder multiple onFiles={add} />
        </Box>
        {trouble && <FailureNote message={trouble.message} hint={trouble.hint} />}
        {files.length === 0 ? (
          <Empty />
        ) : (
          <>
            <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', px: 1.5, py: 0.5, flex: 'none' }}>
              <OneOf
                label="Files shown"
                of={SHOWN}
                value={shown}
                words={(each) =>
                  `${SHOWN_NAMES[each]} ${each === 'all' ? rows.length : rows.filter(({ standing }) => standing === each).length}`
                }
                onSelect={setShown}
              />
              <TextField
                placeholder="Search"
                value={search}
                onChange={(event) => setSearch(event.target.value)}
                sx={{ width: 170 }}
                slotProps={{
                  htmlInput: { 'aria-label': 'Search files' },
                  input: {
                    startAdornment: (
                      <InputAdornment position="start">
                        <SearchIcon fontSize="small" />
                      </InputAdornment>
                    ),
                    sx: { height: 30 },
                  },
                }}
              />
              <Box sx={{ flex: 1 }} />
              {pickedRows.length > 0 && (
                <>
                  <Box sx={{ fontSize: 12 }}>{count(pickedRows.length, 'file')} picked</Box>
                  {pickedRows.length === 2 && pickedRows.every(({ file }) => file.checked) && (
                    <Button
                      color="inherit"
                      onClick={() => void openProject(pickedRows[0]!.file, pickedRows[1]!.file)}
                    >
                      Compare the two
                    </Button>
                  )}
                  <Button color="inherit" onClick={() => setPicked(new Set())}>
                    Pick none
                  </Button>
                  <Button
                    color="inherit"
                    onClick={() => {
                      audit.remove(picked);
                      setPicked(new Set());
                    }}
                  >
                    Take off the list
                  </Button>
                </>
              )}
              <Button
                variant="outlined"
                disabled={toMend.every(({ standing }) => standing !== 'misses')}
                onClick={() => setMending(true)}
              >
                Mend {pickedRows.length > 0 ? 'those picked' : 'all that miss'}…
              </Button>
            </Box>
            <Resizable
              side="bottom"
              label="the file"
              size={height}
              least={200}
              leastMain={90}
              onSize={setHeight}
              main={
                <FileTable
                  audit={audit}
                  targets={targets}
                  rows={visible}
                  picked={picked}
                  onPick={onPick}
                  selected={entry?.id ?? null}
                  onSelect={setSelected}
                />
              }
            >
              {mending ? (
                <MendSheet run={run} rows={toMend} target={state.target} onClose={() => setMending(false)} />
              ) : (
                entry && (
                  <FileDetails
                    audit={audit}
                    entry={entry}
                    targets={targets}
                    onProject={(one) => void openProject(one)}
                  />
                )
              )}
            </Resizable>
          </>
        )}
      </Box>
    </DropArea>
  );
}
