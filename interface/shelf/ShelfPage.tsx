'use client';

import AddIcon from '@mui/icons-material/Add';
import MoreIcon from '@mui/icons-material/MoreHoriz';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Link from '@mui/material/Link';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Snackbar from '@mui/material/Snackbar';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import NextLink from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import { startHistory } from '@/core/programme/history';
import { newProject } from '@/core/programme/newProject';
import { renameProject } from '@/core/programme/edits/project';
import { clock } from '@/core/text/figures';
import { ProjectFormatError } from '@/core/programme/migrations';
import { isPackName } from '@/core/programme/pack';
import { Failed } from '@/engine/failure';
import type { Failure } from '@/engine/protocol';
import { storageError } from '@/storage/failure';
import {
  addProjectFile,
  binProject,
  deleteProject,
  duplicateProject,
  listProjects,
  loadProject,
  restoreProject,
  saveProject,
  type ShelfEntry,
} from '@/storage/projects';
import { loadHandover } from '@/storage/handovers';
import { getSummary, type ProjectSummary } from '@/storage/summaries';
import { NameField } from '../editing/NameField';
import { bringAlong } from '../session/bringAlong';
import { DropArea } from '../ui/DropArea';
import { PackingLine } from '../ui/PackingLine';
import { FailureNote } from '../ui/FailureNote';
import { newId } from '../session/newId';
import { openPack, savePack, type OpenedProject } from '../session/packs';
import { useStoresLast } from '../session/useStoresLast';
import { whileClosed } from '../session/projectLock';
import { DEMO_ID } from '../demo/demoId';
import { BackupBox } from './BackupBox';
import { BinList } from './BinList';
import { Room } from './Room';
import { SummaryCell } from './SummaryCell';
import { OpenProjectFile } from './OpenProjectFile';
import { UnreadableList } from './UnreadableList';
import { lookForOrphans } from './lookForOrphans';
import { UnsavedNote } from './UnsavedNote';

const WHEN = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

/** The list of projects, and what one can do with them; every action ends with a fresh list. */
function useShelf() {
  const [list, setList] = useState<Awaited<ReturnType<typeof listProjects>> | null>(null);
  const [failure, setFailure] = useState<Failure | null>(null);
  const tell = useCallback((error: unknown) => {
    if (error instanceof ProjectFormatError)
      setFailure({ code: 'damaged', message: error.message, hint: 'Nothing was changed.' });
    else if (error instanceof Failed) setFailure(error.failure);
    else setFailure(storageError(error));
  }, []);
  const act = useCallback(
    async (action: () => Promise<unknown>) => {
      try {
        setFailure(null);
        await action();
      } catch (error) {
        tell(error);
      }
      await listProjects().then(setList, tell);
    },
    [tell],
  );
  /** Does something to a project, unless it is open somewhere: what is done there would be lost, or undo this. */
  const actOn = useCallback(
    (id: string, name: string, action: () => Promise<unknown>) =>
      act(async () => {
        const done = await whileClosed(id, action);
        if (!done)
          setFailure({
            code: 'open',
            message: `“${name}” is open in another tab.`,
            hint: 'Do it there, or close it there first.',
          });
      }),
    [act],
  );
  useEffect(() => {
    listProjects().then(setList, tell);
    void lookForOrphans();
  }, [tell]);
  const [summaries, setSummaries] = useState<ReadonlyMap<string, ProjectSummary>>(new Map());
  useEffect(() => {
    void Promise.all(
      (list?.entries ?? []).map(async ({ id }) => [id, await getSummary(id).catch(() => null)] as const),
    ).then((all) => setSummaries(new Map(all.flatMap(([id, one]) => (one ? [[id, one] as const] : [])))));
  }, [list]);
  return { list, entries: list?.entries ?? null, summaries, failure, act, actOn };
}

type Shelf = ReturnType<typeof useShelf>;

function freeName(wanted: string, entries: readonly ShelfEntry[]): string {
  const taken = new Set(entries.map((entry) => entry.name));
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = `${wanted} ${n}`;
  return name;
}

async function rename(id: string, name: string): Promise<void> {
  const loaded = await loadProject(id);
  if (!loaded) return;
  const { history } = loaded;
  await saveProject({ ...history, project: renameProject(history.project, name) });
}

async function saveAsFile(id: string, withSound: boolean): Promise<void> {
  const loaded = await loadProject(id);
  if (!loaded) return;
  const missing = await savePack(loaded.history, await loadHandover(id), withSound);
  if (missing && missing.length > 0)
    throw new Failed({
      ...{ code: 'missing', message: `The file is saved, but without the sound of ${missing.join(', ')}.` },
      hint: 'It is not in this browser: relink it in Sources, then save again.',
    });
}

/** The keyboard begins here, unless it is somewhere already. */
function takeFocus(element: HTMLElement | null): void {
  if (document.activeElement === document.body) element?.focus();
}

function Row({
  entry,
  first,
  shelf,
  onBinned,
}: {
  entry: ShelfEntry;
  /** The keyboard begins with it. */
  first: boolean;
  shelf: Shelf;
  onBinned: (entry: ShelfEntry) => void;
}) {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const [renaming, setRenaming] = useState(false);
  const choose = (action: () => void) => () => {
    setMenu(null);
    action();
  };
  return (
    <TableRow hover>
      <TableCell>
        {!renaming ? (
          <Link
            component={NextLink}
            ref={first ? takeFocus : undefined}
            href={`/project/${entry.id}/${entry.clips > 0 ? 'programme' : 'sources'}`}
            sx={{ fontWeight: 600 }}
          >
            {entry.name}
          </Link>
        ) : (
          <NameField
            label="New name"
            name={entry.name}
            most={120}
            autoFocus
            sx={{ fontSize: 'inherit', width: '100%' }}
            onName={(name) => void shelf.actOn(entry.id, entry.name, () => rename(entry.id, name))}
            onDone={() => setRenaming(false)}
          />
        )}
      </TableCell>
      <TableCell align="right">{entry.lengthSeconds > 0 ? clock(entry.lengthSeconds) : '—'}</TableCell>
      <TableCell align="right">{entry.clips}</TableCell>
      <TableCell>{entry.targetName}</TableCell>
      <TableCell>
        <SummaryCell summary={shelf.summaries.get(entry.id)} />
      </TableCell>
      <TableCell>{WHEN.format(entry.modifiedAt)}</TableCell>
      <TableCell align="right">
        <IconButton
          size="small"
          aria-label={`Actions for ${entry.name}`}
          aria-haspopup="menu"
          onClick={(event) => setMenu(event.currentTarget)}
        >
          <MoreIcon fontSize="small" />
        </IconButton>
        <Menu
          anchorEl={menu}
          open={menu !== null}
          onClose={() => setMenu(null)}
          disableRestoreFocus
          slotProps={{ list: { dense: true } }}
        >
          <MenuItem onClick={choose(() => setRenaming(true))}>Rename</MenuItem>
          <MenuItem
            onClick={choose(
              () =>
                void shelf.act(() =>
                  duplicateProject(entry.id, newId(), freeName(`${entry.name}, copy`, shelf.entries ?? [])),
                ),
            )}
          >
            Duplicate
          </MenuItem>
          <MenuItem onClick={choose(() => void shelf.act(() => saveAsFile(entry.id, true)))}>
            Save as one file
          </MenuItem>
          <MenuItem onClick={choose(() => void shelf.act(() => saveAsFile(entry.id, false)))}>
            Save as a file without its sound
          </MenuItem>
          <MenuItem
            onClick={choose(() => {
              void shelf.actOn(entry.id, entry.name, async () => {
                await binProject(entry.id);
                onBinned(entry);
              });
            })}
          >
            Delete
          </MenuItem>
        </Menu>
      </TableCell>
    </TableRow>
  );
}

function Empty() {
  return (
    <Box sx={{ py: 6, textAlign: 'center', color: 'text.secondary' }}>
      <Typography variant="h2" component="p" sx={{ color: 'text.primary' }}>
        No projects yet
      </Typography>
      <Typography variant="body2" sx={{ mt: 1 }}>
        Start one and drop your audio files into it, or look at the demo programme first.
      </Typography>
    </Box>
  );
}

/** All projects kept in this browser. */
export function ShelfPage() {
  const router = useRouter();
  const shelf = useShelf();
  const lasts = useStoresLast();
  const [binned, setBinned] = useState<ShelfEntry | null>(null);
  const { entries, failure } = shelf;
  const onShelf = entries?.filter((entry) => entry.deletedAt === null) ?? [];
  const inBin = entries?.filter((entry) => entry.deletedAt !== null) ?? [];
  const [wanted, setWanted] = useState('');
  const text = wanted.trim().toLowerCase();
  const found = onShelf.filter(({ name, targetName }) =>
    `${name} ${targetName}`.toLowerCase().includes(text),
  );
  const demo = entries?.some((entry) => entry.id === DEMO_ID) ?? false;
  const [opened, setOpened] = useState<OpenedProject | null>(null);
  const openFile = async (file: File): Promise<void> => {
    const free = (name: string): string => freeName(name, entries ?? []);
    if (isPackName(file.name)) setOpened(await openPack(file, free));
    else await addProjectFile(await file.text(), newId(), free);
  };
  /** @param files project files are opened; all others go into a new project once it is open */
  const create = (all: readonly File[] = []): void =>
    void shelf.act(async () => {
      const files = all.filter(({ name }) => !isPackName(name));
      for (const file of all) if (isPackName(file.name)) await openFile(file);
      if (all.length > 0 && files.length === 0) return;
      const project = newProject(newId(), freeName('New project', entries ?? []), newId());
      await saveProject(startHistory(project));
      if (files.length > 0) bringAlong(project.id, { files });
      router.push(`/project/${project.id}/sources`);
    });
  return (
    <DropArea label="Drop files to start a project with them" onFiles={create}>
      <Box sx={{ width: '100%', maxWidth: 1100, mx: 'auto', p: 3 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 2 }}>
          <Typography variant="h1" sx={{ flex: 1 }}>
            Projects
          </Typography>
          <Button
            variant="outlined"
            component={NextLink}
            href={demo ? '/demo-programme?fresh' : '/demo-programme'}
          >
            {demo ? 'Fresh copy of the demo' : 'Demo programme'}
          </Button>
          {onShelf.length > 1 && (
            <TextField
              label="Find"
              value={wanted}
              onChange={(event) => setWanted(event.target.value)}
              sx={{ width: 150 }}
            />
          )}
          <OpenProjectFile onFile={(file) => void shelf.act(() => openFile(file))} />
          <Button variant="contained" startIcon={<AddIcon />} onClick={() => create()}>
            New project
          </Button>
        </Box>
        {failure && <FailureNote message={failure.message} hint={failure.hint} />}
        {lasts === false && (
          <FailureNote
            message="This browser stores nothing here."
            hint="You can work as usual until this window is closed or reloaded; save projects as files before. If the window is private, or site data is blocked, change that and reload."
          />
        )}
        <UnsavedNote />
        {opened && (
          <Alert
            severity={opened.notes.length > 0 ? 'warning' : 'success'}
            variant="outlined"
            onClose={() => setOpened(null)}
            data-opened
          >
            <Link component={NextLink} href={`/project/${opened.id}/programme`}>
              {opened.name}
            </Link>{' '}
            was opened from its file. {opened.notes.join(' ')}
          </Alert>
        )}
        {entries && onShelf.length === 0 && <Empty />}
        {onShelf.length > 0 && found.length === 0 && (
          <Box sx={{ py: 2, color: 'text.secondary' }}>No project matches.</Box>
        )}
        {found.length > 0 && (
          <Table size="small" aria-label="Projects">
            <TableHead>
              <TableRow>
                <TableCell>Name</TableCell>
                <TableCell align="right">Length</TableCell>
                <TableCell align="right">Clips</TableCell>
                <TableCell>Target</TableCell>
                <TableCell>Verdict</TableCell>
                <TableCell>Last change</TableCell>
                <TableCell align="right">Actions</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {found.map((entry, i) => (
                <Row key={entry.id} entry={entry} first={i === 0} shelf={shelf} onBinned={setBinned} />
              ))}
            </TableBody>
          </Table>
        )}
        {shelf.list && shelf.list.unreadable.length > 0 && (
          <UnreadableList
            entries={shelf.list.unreadable}
            onDelete={({ id, name }) => void shelf.actOn(id, name, () => deleteProject(id))}
          />
        )}
        {inBin.length > 0 && (
          <BinList
            entries={inBin}
            onRestore={({ id, name }) => void shelf.actOn(id, name, () => restoreProject(id))}
            onDelete={({ id, name }) => void shelf.actOn(id, name, () => deleteProject(id))}
          />
        )}
        <BackupBox />
        {lasts !== false && <Room />}
        <PackingLine />
        <Snackbar
          open={binned !== null}
          autoHideDuration={8000}
          onClose={(_, reason) => {
            if (reason !== 'clickaway') setBinned(null);
          }}
          message={`“${binned?.name}” was moved to the bin.`}
          action={
            <Button
              color="inherit"
              onClick={() => {
                if (binned) void shelf.actOn(binned.id, binned.name, () => restoreProject(binned.id));
                setBinned(null);
              }}
            >
              Undo
            </Button>
          }
        />
      </Box>
    </DropArea>
  );
}
