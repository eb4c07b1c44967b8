'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { setWords, type Receipt } from '@/core/deliver/receipt';
import { partOf } from '@/core/recipients/receive';
import type { Recipient } from '@/core/recipients/recipient';
import { figure } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { ChoiceField } from '../editing/ChoiceField';
import type { DeliveredFile } from '../session/deliveries/fileLine';
import { lineHome, serverKey } from '../session/sending';
import { useSession } from '../session/SessionContext';
import { FailureNote } from '../ui/FailureNote';
import { Fold } from '../ui/Fold';
import { LevelMark } from '../ui/LevelMark';
import { ProgressLine } from '../ui/ProgressLine';
import { useRemembered } from '../ui/useRemembered';

/** Who takes deliveries on this server, or why that cannot be told. */
type Known =
  | { readonly recipients: readonly Recipient[] }
  | { readonly message: string; readonly hint: string; readonly wantsKey: boolean };

const CHECK_SERVER = 'Check that the server runs, then look at this file again.';
const NO_ANSWER: Known = {
  ...{ message: 'The server does not answer: recipients cannot be reached.', wantsKey: false },
  hint: CHECK_SERVER,
};

/** @returns `null` while it is asked */
function useRecipients(): Known | null {
  const { key } = useStore(serverKey);
  const [found, setFound] = useState<Known | null>(null);
  useEffect(() => {
    let gone = false;
    lineHome('GET', '/api/recipients', null).then(
      ({ status, data }) => {
        const { recipients, message, hint } = (data ?? {}) as {
          recipients?: readonly Recipient[];
          message?: string;
          hint?: string;
        };
        if (gone) return;
        if (status === 200 && recipients) return setFound({ recipients });
        if (message === undefined) return setFound(NO_ANSWER);
        if (status === 401) setFound({ message, hint: 'Type the key of this server.', wantsKey: true });
        else setFound({ message, hint: hint ?? CHECK_SERVER, wantsKey: false });
      },
      () => {
        if (!gone) setFound(NO_ANSWER);
      },
    );
    return () => {
      gone = true;
    };
  }, [key]);
  return found;
}

/** The key of a server that listens elsewhere than on this machine; it is held for this visit. */
function KeyField() {
  const [typed, setTyped] = useState('');
  return (
    <Box
      component="form"
      sx={{ display: 'flex', gap: 1 }}
      onSubmit={(event) => {
        event.preventDefault();
        serverKey.setState({ key: typed === '' ? null : typed });
      }}
    >
      <TextField
        label="Key of the server"
        type="password"
        autoComplete="off"
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
      />
      <Button type="submit" variant="outlined">
        Use key
      </Button>
    </Box>
  );
}

/** What a recipient answered: accepted or not, and each of its requirements. */
function ReceiptView({ receipt }: { receipt: Receipt }) {
  const { accepted, recipient, number, at, requirements } = receipt;
  const set = setWords(receipt);
  // What is in the way comes first.
  const ordered = [...requirements].sort((a, b) => Number(a.meets) - Number(b.meets));
  const missed = requirements.filter(({ meets }) => !meets).length;
  return (
    <Box
      data-receipt={accepted ? 'accepted' : 'refused'}
      sx={{ border: 1, borderColor: 'divider', borderRadius: 1, p: 1 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <LevelMark standing={accepted ? 'within' : 'over'} />
        <b>{accepted ? `Accepted by ${recipient}` : `Not accepted by ${recipient}`}</b>
      </Box>
      <Box sx={{ color: 'text.secondary', fontSize: 12, pb: 0.5 }}>
        {at}, receipt {number}
        {set !== null && <Box data-set>{set}</Box>}
      </Box>
      <Fold
        name={
          missed === 0
            ? `${requirements.length} requirements, all met`
            : `${missed} of ${requirements.length} requirements not met`
        }
        remember={`receipt ${number}`}
        open={!accepted}
      >
        <Box
          component="table"
          sx={{
            borderCollapse: 'collapse',
            width: '100%',
            '& td, & th': {
              textAlign: 'left',
              pr: 1.5,
              py: 0.25,
              verticalAlign: 'top',
              overflowWrap: 'anywhere',
              fontWeight: 450,
            },
          }}
        >
          <thead>
            <tr>
              <Box component="th" sx={{ color: 'text.secondary' }}>
                Requirement
              </Box>
              <Box component="th" sx={{ color: 'text.secondary' }}>
                Asked for
              </Box>
              <Box component="th" sx={{ color: 'text.secondary' }}>
                Found
              </Box>
            </tr>
          </thead>
          <tbody>
            {ordered.map(({ requirement, asked, found, meets }) => (
              <tr key={`${requirement} ${asked}`} data-requirement={meets ? 'met' : 'missed'}>
                <Box component="td" sx={{ width: '36%' }}>
                  <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
                    <LevelMark standing={meets ? 'within' : 'over'} />
                    {requirement}
                  </Box>
                </Box>
                <td>{asked}</td>
                <Box component="td" sx={{ fontWeight: meets ? 450 : 650 }}>
                  {found}
                </Box>
              </tr>
            ))}
          </tbody>
        </Box>
      </Fold>
    </Box>
  );
}

/** Sends a finished file to a recipient, and shows what was answered. @param fileKey of the delivery's file */
export function SendFile({ fileKey, result }: { fileKey: string; result: DeliveredFile }) {
  const session = useSession();
  const line = useStore(session.sending.store, (lines) => lines.get(fileKey) ?? null);
  const known = useRecipients();
  const [to, setTo] = useRemembered('recipient', '');
  const picked = useRef<HTMLInputElement>(null);
  const { blob, receipts } = result;
  const all = known && 'recipients' in known ? known.recipients : [];
  const recipient = all.find(({ id }) => id === to) ?? all[0] ?? null;
  // What the files of a set have in common is the project that they are of.
  const set = session.project.name.slice(0, 100);
  const send = (bytes: Blob): void => {
    if (recipient) void session.sending.send(fileKey, result, bytes, recipient, set);
  };
  const finished = useStore(session.handover.store, ({ lines }) => lines);
  const ofSet = recipient?.set
    ? [...finished].filter(([, one]) => one.result?.blob && partOf(recipient.set!, one.result.name) !== null)
    : [];
  const sendSet = async (): Promise<void> => {
    for (const [key, one] of ofSet)
      if (one.result?.blob && recipient)
        await session.sending.send(key, one.result, one.result.blob, recipient, set);
  };
  const onTheWay = line !== null && line.state !== 'failed';
  return (
    <Box
      component="section"
      aria-label="Recipient"
      sx={{ display: 'grid', gap: 1, borderTop: 1, borderColor: 'divider', pt: 1 }}
    >
      <Typography variant="h2">Send to a recipient</Typography>
      {known && 'message' in known && (
        <>
          <FailureNote message={known.message} hint={known.hint} />
          {known.wantsKey && <KeyField />}
        </>
      )}
      {recipient && (
        <>
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
            <Box sx={{ width: 220, display: 'grid' }}>
              <ChoiceField
                label="Recipient"
                value={recipient.id}
                choices={all.map(({ id, name }) => ({ value: id, label: name }))}
                disabled={onTheWay}
                onChoose={(id) => setTo(id)}
              />
            </Box>
            <Button
              variant="outlined"
              disabled={onTheWay}
              onClick={() => (blob ? send(blob) : picked.current?.click())}
            >
              {blob ? 'Send' : 'Send the saved file…'}
            </Button>
            {ofSet.length > 1 && (
              <Button variant="outlined" disabled={onTheWay} onClick={() => void sendSet()}>
                Send {ofSet.length} files as a set
              </Button>
            )}
            <input
              ref={picked}
              type="file"
              hidden
              aria-label="The saved file"
              onChange={(event) => {
                const file = event.target.files?.[0];
                if (file) send(file);
                event.target.value = '';
              }}
            />
          </Box>
          <Box sx={{ color: 'text.secondary', fontSize: 12 }}>
            {recipient.about} Asks for {figure(recipient.target.integratedLufs)} LUFS ±
            {figure(recipient.target.toleranceLu)}, at most {figure(recipient.target.maxTruePeakDbtp)} dBTP.
            {recipient.set &&
              ` Each delivery is ${count(recipient.set.length, 'file')}: ${recipient.set.map(({ name, example }) => `${name} (${example})`).join(', ')}.`}
          </Box>
        </>
      )}
      {line && onTheWay && (
        <ProgressLine
          label={line.state === 'waiting' ? 'Line broken, trying again' : 'Sending'}
          done={line.done}
          onCancel={() => session.sending.cancel(fileKey)}
        />
      )}
      {line?.failure && <FailureNote message={line.failure.message} hint={line.failure.hint} />}
      {[...receipts].reverse().map((receipt) => (
        <ReceiptView key={receipt.number} receipt={receipt} />
      ))}
    </Box>
  );
}
