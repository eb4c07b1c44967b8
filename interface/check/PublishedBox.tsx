'use client';

import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { listened, publishedLufs, type Service } from '@/core/check/services';
import { readNumber } from '@/core/text/typedNumber';
import { figure, signed, withUnit } from '@/core/text/figures';
import { measurePool } from '@/engine/measurePool';
import { DropArea } from '../ui/DropArea';

const LUFS_MESSAGE = 'Published at: a number from −60 to 0 LUFS';
const PERCENT_MESSAGE = 'Played at: a number from 1 to 100 %';

/** The other way round: what was published is played at so many per cent, and the gain that would have avoided it. */
export function PublishedBox({
  services,
  programmeLufs,
}: {
  services: readonly Service[];
  /** Loudness of the open programme, from which it begins; `null` when it has none. */
  programmeLufs: number | null;
}) {
  const usable = services.filter(({ referenceLufs, turnsDown }) => referenceLufs !== null && turnsDown);
  const [serviceId, setServiceId] = useState(usable[0]?.id ?? '');
  const [typedLufs, setLufs] = useState<string | null>(null);
  const lufs = typedLufs ?? (programmeLufs === null ? '' : figure(programmeLufs));
  const [percent, setPercent] = useState('');
  /** What came of a file that was dropped. */
  const [told, setTold] = useState<string | null>(null);
  const service = usable.find(({ id }) => id === serviceId) ?? usable[0];
  if (!service) return null;
  const byPercent = percent.trim() !== '';
  const read = byPercent
    ? readNumber(percent, PERCENT_MESSAGE, [1, 100, '%'])
    : readNumber(lufs, LUFS_MESSAGE, [-60, 0, 'LUFS']);
  const isEmpty = !byPercent && lufs.trim() === '';
  const error = typeof read === 'number' || isEmpty ? null : read.error;
  const published = typeof read === 'number' ? (byPercent ? publishedLufs(read, service) : read) : null;
  const found =
    published === null ? null : listened({ integratedLufs: published, truePeakDbtp: null }, service);
  const measure = async ([file]: File[]): Promise<void> => {
    if (!file) return;
    setTold(`Measuring ${file.name} …`);
    const outcome = await measurePool().fileToCheck(file, new AbortController().signal, (done) =>
      setTold(`Measuring ${file.name}: ${figure(100 * done, 0)} %`),
    );
    if ('failure' in outcome)
      return setTold(`${file.name}: ${outcome.failure.message} ${outcome.failure.hint}`);
    const loudness = 'ok' in outcome ? outcome.ok.material.figures.integratedLufs : null;
    setTold(loudness === null ? `${file.name}: there is nothing to measure.` : `As ${file.name} measures.`);
    if (loudness === null) return;
    setPercent('');
    setLufs(signed(loudness));
  };
  return (
    <DropArea label="Drop what was published to measure it" onFiles={(files) => void measure(files)}>
      <Box component="section" aria-label="What was published" sx={{ px: 1.5, py: 1.5, fontSize: 13 }}>
        <Box sx={{ fontWeight: 600, mb: 1 }}>What was published already: type it, or drop the file</Box>
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'start', flexWrap: 'wrap' }}>
          <TextField
            select
            label="Service"
            value={service.id}
            onChange={(event) => setServiceId(event.target.value)}
            sx={{ width: 300 }}
          >
            {usable.map(({ id, name }) => (
              <MenuItem key={id} value={id} dense>
                {name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            label="Published at (LUFS)"
            value={byPercent ? figure(published) : lufs}
            error={error !== null && !byPercent}
            helperText={byPercent ? undefined : error}
            onChange={(event) => {
              setPercent('');
              setLufs(event.target.value);
            }}
            sx={{ width: 160 }}
          />
          <TextField
            label="Played at (%)"
            value={byPercent ? percent : found ? String(Math.round(found.percent)) : ''}
            error={error !== null && byPercent}
            helperText={byPercent ? error : undefined}
            onChange={(event) => setPercent(event.target.value)}
            sx={{ width: 140 }}
          />
        </Box>
        {found && (
          <Box role="status" data-published sx={{ mt: 1 }}>
            {found.gainDb < -0.005
              ? `Published at ${withUnit(published, 'LUFS')} it is played at ${Math.round(found.percent)} %: ${signed(found.gainDb)} dB. Delivered ${figure(-found.gainDb)} dB lower, at ${withUnit(service.referenceLufs, 'LUFS')}, it is played as it is, with ${figure(-found.gainDb)} dB more room for peaks.`
              : found.gainDb > 0.005
                ? `Published at ${withUnit(published, 'LUFS')} it is turned up by ${figure(found.gainDb)} dB.`
                : `Published at ${withUnit(published, 'LUFS')} it is played as it is.`}
          </Box>
        )}
        {told !== null && (
          <Box role="status" data-published-file sx={{ mt: 0.5, fontSize: 12, color: 'text.secondary' }}>
            {told}
          </Box>
        )}
      </Box>
    </DropArea>
  );
}
