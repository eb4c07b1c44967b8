'use client';

import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import { useState } from 'react';
import { programmeLayout } from '@/core/audio/layout';
import { clipBalanceAt, setBalancePoint } from '@/core/programme/edits/balance';
import { setBalance, setChannelDb } from '@/core/programme/edits/channels';
import { CHANNEL_GAIN } from '@/core/programme/gainField';
import type { Clip, Project, Source } from '@/core/programme/model';
import { inSource } from '@/core/programme/sections';
import { placeText } from '@/core/programme/timeText';
import { balanceText } from '@/core/text/balance';
import { count } from '@/core/text/words';
import { useProject, useSession, useSessionState } from '../../session/SessionContext';
import { gainText } from '../clipLevel';
import { BalanceOverTime } from './BalanceOverTime';
import { GainField } from '../../editing/GainField';

/** How a mono source is laid into the programme, where that is a choice. */
function MonoNote({ source }: { source: Source }) {
  const { layoutId, monoLaw } = useProject();
  const { labels } = programmeLayout(layoutId);
  if (source.layout.id !== 'mono' || labels.length === 1 || labels.includes('C')) return null;
  return (
    <Box sx={{ fontSize: 11.5, color: 'text.secondary', mt: 0.5 }}>
      {monoLaw === 'full'
        ? 'Mono, in full to each side: 3 dB louder than the source by itself.'
        : 'Mono, panned to the centre at constant power: as loud as the source by itself, with peaks 3 dB lower.'}
    </Box>
  );
}

/** Each channel of a clip on its own, and its balance between left and right. */
export function ChannelBox({ clip }: { clip: Clip }) {
  const session = useSession();
  const project = useProject();
  const playhead = useSessionState((state) => state.playhead);
  const [moving, setMoving] = useState<number | null>(null);
  const [open, setOpen] = useState(
    clip.channelDb.length > 0 || clip.balance !== 0 || clip.balanceCurve.length > 0,
  );
  const source = project.sources.find(({ id }) => id === clip.sourceId);
  if (!source) return null;
  const { labels } = source.layout;
  const { start, length, balanceCurve } = clip;
  const overTime = balanceCurve.length > 0;
  const within = playhead >= start && playhead <= start + length;
  const at = inSource(clip, Math.min(start + length, Math.max(start, playhead)));
  const balance = moving ?? clipBalanceAt(clip, at);
  const put = (state: Project, value: number): Project =>
    overTime ? setBalancePoint(state, clip.id, at, value) : setBalance(state, new Set([clip.id]), value);
  return (
    <Box
      component="details"
      open={open}
      onToggle={(event) => setOpen((event.currentTarget as HTMLDetailsElement).open)}
      sx={{ fontSize: 12 }}
    >
      <Box component="summary" sx={{ cursor: 'pointer' }}>
        Channels and balance:{' '}
        {overTime ? `over time, ${count(balanceCurve.length, 'point')}` : balanceText(clip.balance)}
        {clip.channelDb.length > 0 && `, ${clip.channelDb.map((db) => gainText(db)).join(' / ')}`}
      </Box>
      <MonoNote source={source} />
      {labels.length > 1 && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1, mt: 1 }}>
          {labels.map((label, channel) => (
            <GainField
              key={label}
              label={`${label} (dB)`}
              value={clip.channelDb[channel] ?? 0}
              range={CHANNEL_GAIN}
              hint=""
              onEntry={(entry) => {
                const now = clip.channelDb[channel] ?? 0;
                const db = entry.kind === 'set' ? entry.db : now + entry.db;
                session.do(`${label} of ${clip.name} to ${gainText(db)}`, (state) =>
                  setChannelDb(state, clip.id, channel, db),
                );
              }}
            />
          ))}
        </Box>
      )}
      {programmeLayout(project.layoutId).labels.length > 1 && (
        <Box sx={{ px: 1.5, mt: 0.5 }}>
          <Slider
            size="small"
            min={-100}
            max={100}
            step={1}
            value={Math.round(balance * 100)}
            marks={[
              { value: -100, label: 'L' },
              { value: 0, label: 'Centre' },
              { value: 100, label: 'R' },
            ]}
            disabled={overTime && !within}
            aria-label={`Balance of ${clip.name}${overTime ? ' at the playhead' : ''}`}
            getAriaValueText={(value) => balanceText(value / 100)}
            onChange={(_, value) => {
              setMoving(value / 100);
              session.setPreview(put(session.project, value / 100));
            }}
            onChangeCommitted={(_, value) => {
              setMoving(null);
              const where = overTime ? ` at ${placeText(project, playhead)}` : '';
              session.do(`Balance of ${clip.name}${where}: ${balanceText(value / 100)}`, (state) =>
                put(state, value / 100),
              );
            }}
          />
          {overTime && (
            <Box sx={{ color: 'text.secondary' }}>
              {within
                ? 'At the playhead: a drag sets a point there.'
                : 'Move the playhead into the clip to set it there.'}
            </Box>
          )}
        </Box>
      )}
      {programmeLayout(project.layoutId).labels.length > 1 && (
        <BalanceOverTime clip={clip} at={within ? at : null} />
      )}
    </Box>
  );
}
