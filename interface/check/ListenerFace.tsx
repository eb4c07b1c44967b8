'use client';

import EditIcon from '@mui/icons-material/EditOutlined';
import HearIcon from '@mui/icons-material/HearingOutlined';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import { useCallback, useEffect, useState } from 'react';
import { useStore } from 'zustand';
import {
  listened,
  listenedSentence,
  SHIPPED_SERVICES,
  type Listened,
  type Service,
} from '@/core/check/services';
import type { Judged } from '@/core/check/verdict';
import type { LoudnessFigures } from '@/core/loudness/figures';
import { figure, signed, withUnit } from '@/core/text/figures';
import { count } from '@/core/text/words';
import { storageError } from '@/storage/failure';
import { ownServices } from '@/storage/presets';
import type { Played } from '../session/listening';
import { useSession } from '../session/SessionContext';
import { FailureNote } from '../ui/FailureNote';
import { PublishedBox } from './PublishedBox';
import { ServiceEditor } from './ServiceEditor';

const HEADINGS = ['Service', 'Gain', 'Played at', 'Listener', 'True peak', 'What it does', ''] as const;

function Row({
  service,
  found,
  other,
  hearing,
  onEdit,
}: {
  service: Service;
  found: Listened;
  /** What becomes of what it is compared with. */
  other: Listened | null;
  hearing: HearingAs;
  onEdit: () => void;
}) {
  const heard = hearing.serviceId === service.id;
  const cannot = hearing.cannot(found);
  const hear = (): void => {
    const treated = ({ gainDb, limitedDb }: Listened) => ({
      ...{ gainDb, ceilingDbtp: limitedDb > 0 ? service.ceilingDbtp : null },
    });
    hearing.hear(heard ? null : { serviceId: service.id, ...treated(found), other: other && treated(other) });
  };
  return (
    <Box
      component="tr"
      data-service={service.id}
      sx={{ '& > td, & > th': { borderBottom: 1, borderColor: 'divider', px: 1.25, py: 0.75 } }}
    >
      <Box component="th" scope="row" sx={{ textAlign: 'left', fontWeight: 550 }}>
        {service.name}
      </Box>
      <td style={{ whiteSpace: 'nowrap' }}>{signed(found.gainDb)} dB</td>
      <Box component="td" data-percent={found.percent} sx={{ whiteSpace: 'nowrap', fontWeight: 600 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
          <Box aria-hidden sx={{ width: 64, height: 8, border: 1, borderColor: 'divider' }}>
            <Box
              sx={{ height: '100%', bgcolor: 'primary.main' }}
              style={{ width: `${Math.min(100, found.percent)}%` }}
            />
          </Box>
          {figure(found.percent, 0)} %
        </Box>
      </Box>
      <td style={{ whiteSpace: 'nowrap' }}>{withUnit(found.listenerLufs, 'LUFS')}</td>
      <td style={{ whiteSpace: 'nowrap' }}>{withUnit(found.listenerDbtp, 'dBTP')}</td>
      <td>{listenedSentence(found, service)}</td>
      {other && (
        <Box component="td" data-other-percent={other.percent} sx={{ whiteSpace: 'nowrap' }}>
          {figure(other.percent, 0)} %, {withUnit(other.listenerLufs, 'LUFS')}
        </Box>
      )}
      <td style={{ whiteSpace: 'nowrap' }}>
        <Tooltip title={cannot ?? (heard ? 'Hear it as it is again' : 'Hear it as this service plays it')}>
          <span>
            <ToggleButton
              disabled={cannot !== null}
              value="hear"
              size="small"
              selected={heard}
              aria-label={`Hear it by ${service.name}`}
              onChange={hear}
              sx={{ p: 0.5 }}
            >
              <HearIcon fontSize="small" />
            </ToggleButton>
          </span>
        </Tooltip>
        <IconButton size="small" aria-label={`Change ${service.name}`} onClick={onEdit} sx={{ ml: 0.5 }}>
          <EditIcon fontSize="small" />
        </IconButton>
      </td>
    </Box>
  );
}

/** What a sound is held against. */
interface Against {
  readonly name: string;
  readonly figures: LoudnessFigures;
  readonly isHeard: boolean;
  readonly hear: (isHeard: boolean) => void;
}

/** The same of what the programme of the open project is compared with; `null` where that is nothing. */
export function useAgainst(): Against | null {
  const session = useSession();
  const other = useStore(session.comparing.store, (state) => state.other);
  const { comparison } = session.listening;
  const isHeard = useStore(comparison.store, ({ compared }) => compared === 'other');
  return (
    other && {
      ...{ name: other.name, figures: other.figures, isHeard },
      hear: (wanted) => comparison.choose(wanted ? 'other' : null),
    }
  );
}

/** Hearing it as a service plays it. */
export interface HearingAs {
  /** As which it is heard. */
  readonly serviceId: string | null;
  /** @param played `null`: as it is */
  readonly hear: (played: Played | null) => void;
  /** Back to what it is, without beginning to play. */
  readonly stop: () => void;
  /** Why it cannot be heard, a full sentence; `null` where it can. */
  readonly cannot: (found: Listened) => string | null;
}

/** The same of the programme of the open project. */
export function useHearingAs(): HearingAs {
  const session = useSession();
  const serviceId = useStore(session.listening.service, ({ played }) => played?.serviceId ?? null);
  const stop = useCallback(() => session.listening.hearAs(null), [session]);
  const hear = (played: Played | null): void => {
    session.listening.hearAs(played);
    if (played && !session.state.playing) void session.listening.play();
  };
  return { serviceId, hear, stop, cannot: () => null };
}

/** What services do with the programme: how loud it is played, shown as gain and per cent, and heard that way. */
export function ListenerFace({
  judged,
  hearing,
  against = null,
}: {
  judged: Judged;
  hearing: HearingAs;
  /** What it is compared with. */
  against?: Against | null;
}) {
  const [own, setOwn] = useState<readonly Service[]>([]);
  const [trouble, setTrouble] = useState<{ message: string; hint: string } | null>(null);
  const [editing, setEditing] = useState<Service | null>(null);
  const list = useCallback(() => {
    ownServices.list().then(
      ({ items, unreadable }) => {
        setOwn(items);
        if (unreadable.length > 0)
          setTrouble({
            message: `${count(unreadable.length, 'service')} of your own cannot be read.`,
            hint: 'What was saved of it is left as it is.',
          });
      },
      (error: unknown) => setTrouble(storageError(error)),
    );
  }, []);
  useEffect(list, [list]);
  // Away from here it is heard as it is.
  const { stop } = hearing;
  useEffect(() => stop, [stop]);
  const services = [...SHIPPED_SERVICES, ...own];
  return (
    <Box
      sx={{ flex: 1, minHeight: 0, overflow: 'auto' }}
      tabIndex={0}
      role="region"
      aria-label="What the listener gets"
    >
      <Box sx={{ px: 1.5, pt: 1, fontSize: 12, color: 'text.secondary' }}>
        Services play what is louder than their reference turned down. These are made up and typical; make
        them yours.
        {against && (
          <ToggleButton
            value="other"
            size="small"
            selected={against.isHeard}
            onChange={() => against.hear(!against.isHeard)}
            sx={{ textTransform: 'none', ml: 1, px: 1, py: 0.25 }}
          >
            Hear the other in its place
          </ToggleButton>
        )}
      </Box>
      {trouble && <FailureNote {...trouble} />}
      <Box component="table" sx={{ borderCollapse: 'collapse', fontSize: 13, width: '100%' }}>
        <thead>
          <Box
            component="tr"
            sx={{
              '& > th': {
                ...{ textAlign: 'left', fontSize: 11, fontWeight: 450, color: 'text.secondary' },
                ...{ px: 1.25, py: 0.5, borderBottom: 1, borderColor: 'divider' },
              },
            }}
          >
            {HEADINGS.flatMap((heading) =>
              heading === '' && against ? [`The other: ${against.name}`, heading] : [heading],
            ).map((heading) => (
              <th scope="col" key={heading} aria-label={heading === '' ? 'Hear, change' : undefined}>
                {heading}
              </th>
            ))}
          </Box>
        </thead>
        <tbody>
          {services.map((service) => (
            <Row
              key={service.id}
              service={service}
              found={listened(judged, service)}
              other={against && listened(against.figures, service)}
              hearing={hearing}
              onEdit={() => setEditing(service)}
            />
          ))}
        </tbody>
      </Box>
      <PublishedBox services={services} programmeLufs={judged.integratedLufs} />
      {editing && (
        <ServiceEditor
          base={editing}
          onClose={() => setEditing(null)}
          onSaved={() => {
            setEditing(null);
            list();
          }}
        />
      )}
    </Box>
  );
}
