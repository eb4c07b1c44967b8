import Box from '@mui/material/Box';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { PROGRAMME_LAYOUTS, programmeLayout } from '@/core/audio/layout';
import type { WriteFormat } from '@/core/audio/pcm';
import {
  asKind,
  codedBy,
  coderOf,
  CODERS,
  DEPTH_NAMES,
  factsOf,
  formatWords,
  isLossy,
  KINDS,
} from '@/core/deliver/fileKinds';
import type { Coder, Delivery, FileFormat, FileKind } from '@/core/programme/delivery';
import { PROGRAMME_RATES } from '@/core/programme/edits/settings';
import { ChoiceField } from '../editing/ChoiceField';
import { useProject } from '../session/SessionContext';
import { useDelivery } from './useDelivery';

/** Stands for what the programme has. */
const AS_IS = 'as is';
const PLAIN = 'plain';
const CAPITAL = (word: string): string => `${word[0]!.toUpperCase()}${word.slice(1)}`;

/** What a file is written as. */
export function FormatFields({ delivery }: { delivery: Delivery }) {
  const project = useProject();
  const change = useDelivery(delivery);
  const { format, layoutId, sampleRate } = delivery;
  const { depths, kbps } = factsOf(format);
  const lossy = isLossy(format);
  const set = (next: FileFormat): void => change(formatWords(next), { format: next });
  const own = programmeLayout(project.layoutId);
  const folds = PROGRAMME_LAYOUTS.filter(({ labels }) => labels.length <= own.labels.length);
  return (
    <>
      <ChoiceField
        label="File"
        value={format.kind}
        choices={(Object.keys(KINDS) as FileKind[]).map((kind) => ({ value: kind, label: KINDS[kind].name }))}
        onChoose={(kind) => set(asKind(format, kind as FileKind))}
      />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1.25 }}>
        {!lossy && (
          <ChoiceField
            label="Samples"
            value={format.depth}
            choices={depths.map((depth) => ({ value: depth, label: CAPITAL(DEPTH_NAMES[depth]) }))}
            onChoose={(depth) => set({ ...format, depth: depth as WriteFormat })}
          />
        )}
        {lossy && (
          <ChoiceField
            label="Bit rate"
            value={String(format.kbps)}
            choices={kbps.map((rate) => ({ value: String(rate), label: `${rate} kbit/s` }))}
            onChoose={(rate) => set({ ...format, kbps: Number(rate) })}
          />
        )}
        <ChoiceField
          label="Rate"
          value={sampleRate === null ? AS_IS : String(sampleRate)}
          choices={[
            { value: AS_IS, label: `As it is (${project.sampleRate / 1000} kHz)` },
            ...PROGRAMME_RATES.map((rate) => ({ value: String(rate), label: `${rate / 1000} kHz` })),
          ]}
          onChoose={(rate, label) =>
            change(`rate ${label.toLowerCase()}`, { sampleRate: rate === AS_IS ? null : Number(rate) })
          }
        />
      </Box>
      {!lossy && format.depth === 's16' && (
        <FormControlLabel
          label="Triangular dither"
          control={
            <Checkbox
              size="small"
              checked={format.dither}
              onChange={(_, dither) => set({ ...format, dither })}
            />
          }
        />
      )}
      {depths.length > 0 && kbps.length > 0 && (
        <ChoiceField
          label="Sound"
          value={format.coded ? coderOf(format) : PLAIN}
          choices={[
            { value: PLAIN, label: 'Plain samples (PCM)' },
            ...(Object.keys(CODERS) as Coder[]).map((coder) => ({ value: coder, label: CODERS[coder].name })),
          ]}
          onChoose={(coder) => set(codedBy(format, coder === PLAIN ? null : (coder as Coder)))}
        />
      )}
      <ChoiceField
        label="Channels"
        value={layoutId ?? AS_IS}
        choices={[
          { value: AS_IS, label: `As they are (${own.name})` },
          ...folds.map(({ id, name }) => ({ value: id, label: CAPITAL(name) })),
        ]}
        help="Fewer than the programme has are downmixed to ITU-R BS.775"
        onChoose={(id, label) =>
          change(`channels ${label.toLowerCase()}`, { layoutId: id === AS_IS ? null : id })
        }
      />
    </>
  );
}
