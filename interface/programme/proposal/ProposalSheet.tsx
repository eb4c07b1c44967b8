'use client';

import HearIcon from '@mui/icons-material/HearingOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import type { Project } from '@/core/programme/model';
import type { ProposedRow } from '@/core/proposals/protocol';
import { count } from '@/core/text/words';
import { ColumnMenu } from '../../ui/table/ColumnMenu';
import { useSession } from '../../session/SessionContext';
import { BottomSheet } from './BottomSheet';
import { ProposalTable, useProposalTable, type RowWords } from './ProposalTable';
import { usePreview } from './usePreview';
import type { PickedRows } from './useRows';

interface Props<R extends ProposedRow> {
  readonly label: string;
  readonly of: PickedRows<R>;
  readonly words: RowWords<R>;
  /** What is asked for. */
  readonly fields: ReactNode;
  /** Less often asked for, in the line under it. */
  readonly options?: ReactNode;
  /** How it works, in a sentence or two. */
  readonly told: ReactNode;
  /** Why it cannot be applied yet; `null` when it can. */
  readonly waiting?: string | null;
  /** Further buttons beside the line that tells. */
  readonly actions?: ReactNode;
  /** What stands in place of the table where there are no rows. */
  readonly empty?: ReactNode;
  /** Name of the button that applies. @param n how many rows are picked */
  readonly apply: (n: number) => string;
  /** Applies it in another way than as its own step. */
  readonly onApply?: () => void;
  /** The project as it is previewed, where applying does more than the rows. */
  readonly previewed?: Project;
  /** Whether the programme is shown and heard with it: when asked for, as long as it is open, or never. */
  readonly preview?: 'asked' | 'always' | 'never';
  /** Whether the gains are those of clips, so that the lanes can show where each goes. */
  readonly ghosts?: boolean;
  /** It can be applied with no row picked: there is more to it. */
  readonly applyWithout?: boolean;
  /** Stands in place of the rows. */
  readonly instead?: ReactNode;
  /** There is nothing to type first: the button that applies takes the focus as soon as it can. */
  readonly applyFirst?: boolean;
  /** It stays open for more. */
  readonly staysOpen?: boolean;
  readonly onClose: () => void;
}

/** What is special about the rows, in a few words. */
function marksOf(rows: readonly ProposedRow[], picked: readonly ProposedRow[], subject: string): string {
  const one = subject.toLowerCase();
  const held = picked.filter((row) => row.limitedBy !== null).length;
  const past = picked.filter((row) => row.passesCeiling).length;
  const skipped = rows.filter((row) => row.skipped !== null).length;
  return [
    ...(held > 0 ? [`${count(held, `${one} stops`, `${one}s stop`)} short.`] : []),
    ...(past > 0 ? [`${count(past, `${one} goes`, `${one}s go`)} past the ceiling.`] : []),
    ...(skipped > 0 ? [`${count(skipped, `${one} is`, `${one}s are`)} skipped.`] : []),
  ].join(' ');
}

/** The frame of every proposal: what is asked for, a preview by eye and ear, rows to pick and type over, one step to apply. */
export function ProposalSheet<R extends ProposedRow>(props: Props<R>) {
  const { label, of, words, fields, options, told, actions, empty, preview = 'asked', ghosts = true } = props;
  const { onClose } = props;
  const session = useSession();
  const [asked, setAsked] = useState(false);
  const previewing = preview === 'always' || asked;
  const button = useRef<HTMLButtonElement>(null);
  const { proposal, proposed, rows, picked, typedCount } = of;
  usePreview(
    preview === 'never' || !ghosts ? NOTHING : picked,
    previewing ? (props.previewed ?? proposed) : null,
  );
  const model = useProposalTable(of, words);
  const inexact = proposal?.inexact.length ?? 0;
  const waiting =
    props.waiting ??
    (inexact > 0
      ? `Calculating the exact true peak of ${count(inexact, words.subject.toLowerCase())} near the ceiling …`
      : null);
  const ready = proposal !== null && (picked.length > 0 || props.applyWithout) && waiting === null;
  const { applyFirst = false } = props;
  useEffect(() => {
    if (applyFirst && ready) button.current?.focus();
  }, [applyFirst, ready]);
  const apply = (): void => {
    if (!ready) return;
    if (props.onApply) props.onApply();
    else session.do(proposal.step(picked, typedCount), (current) => proposal.edit(current, picked));
    if (!props.staysOpen) onClose();
  };
  return (
    <BottomSheet
      label={label}
      onClose={onClose}
      // Enter in a field takes its figure and no more: only the button applies.
      top={fields}
      actions={
        <>
          {preview === 'asked' && (
            <Tooltip describeChild title="See and hear the programme with these gains before applying them">
              <ToggleButton
                value="preview"
                size="small"
                selected={asked}
                onChange={() => setAsked(!asked)}
                sx={{ textTransform: 'none', height: 36, gap: 0.5 }}
              >
                <HearIcon fontSize="small" /> Preview
              </ToggleButton>
            </Tooltip>
          )}
          <Button
            variant="contained"
            disabled={!ready}
            onClick={apply}
            ref={button}
            sx={{ height: 36, whiteSpace: 'nowrap' }}
          >
            {props.apply(picked.length)}
          </Button>
        </>
      }
    >
      <Box sx={{ display: 'flex', alignItems: 'start', gap: 1, px: 1.5, py: 0.75, flexWrap: 'wrap' }}>
        {options}
        <Box
          role="status"
          sx={{ flex: 1, minWidth: 260, fontSize: 12, lineHeight: '16px', color: 'text.secondary' }}
        >
          {told} {waiting} {marksOf(rows, picked, words.subject)}
          {asked && ' The programme is shown and heard with them.'}
        </Box>
        {actions}
        {rows.length > 1 && !props.instead && <ColumnMenu model={model} />}
      </Box>
      {props.instead ?? (rows.length === 0 ? empty : <ProposalTable model={model} of={of} />)}
    </BottomSheet>
  );
}

const NOTHING: readonly ProposedRow[] = [];
