'use client';

import DeleteIcon from '@mui/icons-material/DeleteOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import type { DeliveryFile } from '@/core/deliver/deliveryFiles';
import { factsOf } from '@/core/deliver/fileKinds';
import { duplicateDelivery, removeDelivery } from '@/core/programme/edits/deliveries';
import { MOST_SILENCE } from '@/core/programme/deliverySchema';
import { isStems, type Correction, type DeliveredTexts, type Delivery } from '@/core/programme/delivery';
import { NumberField } from '../editing/NumberField';
import { newId } from '../session/newId';
import { useProject, useSession } from '../session/SessionContext';
import { TargetMenu } from '../targets/TargetMenu';
import { Fold } from '../ui/Fold';
import { OneOf } from '../ui/OneOf';
import { FormatFields } from './FormatFields';
import { PatternField } from './PatternField';
import { useDelivery } from './useDelivery';
import { RangeFields, WhatFields } from './WhatFields';

const CORRECTIONS: readonly Correction[] = ['none', 'gain', 'limiter'];
const CORRECTION_NAMES: Readonly<Record<Correction, string>> = {
  none: 'None',
  gain: 'Gain',
  limiter: 'Gain, limiter',
};

const SILENCES = [
  ['headSeconds', 'Before'],
  ['tailSeconds', 'After'],
] as const;

const TEXTS: readonly (readonly [keyof DeliveredTexts, string, number])[] = [
  ['title', 'Title', 200],
  ['artist', 'Artist or originator', 200],
  ['description', 'Description', 256],
  ['language', 'Language', 20],
];

/** What the files are judged by, and what may still be done so that they meet it. */
function TargetFields({ delivery }: { delivery: Delivery }) {
  const { target } = useProject();
  const change = useDelivery(delivery);
  const stems = isStems(delivery);
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
        <FormControlLabel
          label="Has a target"
          control={
            <Checkbox
              size="small"
              checked={delivery.target !== null}
              onChange={(_, has) =>
                change(has ? `target ${target.name}` : 'no target', { target: has ? target : null })
              }
            />
          }
        />
        {delivery.target && (
          <TargetMenu
            target={delivery.target}
            onChoose={(chosen) => change(`target ${chosen.name}`, { target: chosen })}
          />
        )}
      </Box>
      {delivery.target && (
        <Box>
          <Box sx={{ fontSize: 12, mb: 0.5 }}>Last correction, where it misses the target</Box>
          <OneOf
            label="Last correction"
            of={CORRECTIONS}
            value={delivery.correction}
            words={(each) => CORRECTION_NAMES[each]}
            onSelect={(correction) =>
              change(`last correction ${CORRECTION_NAMES[correction].toLowerCase()}`, { correction })
            }
          />
          {stems && (
            <Box sx={{ fontSize: 11.5, color: 'text.secondary', mt: 0.5 }}>
              Stems are not judged. They get the gain and the limiting that the whole programme needs, so that
              they still add up to it.
            </Box>
          )}
        </Box>
      )}
    </>
  );
}

function MoreFields({ delivery }: { delivery: Delivery }) {
  const change = useDelivery(delivery);
  const { texts, format } = delivery;
  const facts = factsOf(format);
  return (
    <>
      <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {SILENCES.map(([key, label]) => (
          <NumberField
            key={key}
            label={`Silence ${label.toLowerCase()} (s)`}
            value={delivery[key]}
            range={{ name: `Silence ${label.toLowerCase()}`, min: 0, max: MOST_SILENCE, unit: 's' }}
            onValue={(seconds) =>
              change(`${seconds} s of silence ${label.toLowerCase()}`, { [key]: seconds })
            }
          />
        ))}
        <NumberField
          label="Version"
          value={delivery.version}
          range={{ name: 'Version', min: 1, max: 9_999, unit: '' }}
          onValue={(version) => change(`version ${Math.round(version)}`, { version: Math.round(version) })}
        />
      </Box>
      {facts.saysLoudness && (
        <FormControlLabel
          label="Its measured loudness is written into the file"
          control={
            <Checkbox
              size="small"
              checked={delivery.saysLoudness}
              onChange={(_, saysLoudness) =>
                change(saysLoudness ? 'says its loudness' : 'does not say its loudness', { saysLoudness })
              }
            />
          }
        />
      )}
      {TEXTS.map(([key, label, most]) => (
        <TextField
          key={key}
          label={label}
          value={texts[key]}
          disabled={!facts.texts && key !== 'language'}
          helperText={facts.texts || key === 'language' ? undefined : `${facts.name} has no place for it`}
          slotProps={{ htmlInput: { maxLength: most } }}
          onChange={(event) =>
            change(label.toLowerCase(), { texts: { ...texts, [key]: event.target.value } }, true)
          }
        />
      ))}
    </>
  );
}

/** All that a delivery says of its files. */
export function DeliveryEditor({ delivery, files }: { delivery: Delivery; files: readonly DeliveryFile[] }) {
  const session = useSession();
  const change = useDelivery(delivery);
  const { id, pattern } = delivery;
  return (
    <Box
      component="section"
      aria-label="Delivery"
      sx={{ p: 1.5, display: 'flex', flexDirection: 'column', gap: 1.25 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Delivery
        </Typography>
        <Button
          color="inherit"
          size="small"
          onClick={() =>
            session.do(`Duplicate delivery ${pattern}`, (project) => duplicateDelivery(project, id, newId()))
          }
        >
          Duplicate
        </Button>
        <Button
          color="inherit"
          size="small"
          startIcon={<DeleteIcon />}
          onClick={() => session.do(`Remove delivery ${pattern}`, (project) => removeDelivery(project, id))}
        >
          Remove
        </Button>
      </Box>
      <PatternField
        key={id}
        pattern={pattern}
        preview={files[0]?.name ?? null}
        onPattern={(next) => change('name of the files', { pattern: next }, true)}
      />
      <TargetFields delivery={delivery} />
      <WhatFields delivery={delivery} />
      <RangeFields delivery={delivery} />
      <FormatFields delivery={delivery} />
      <Fold name="Silence, version, texts in the file" remember="delivery more">
        <MoreFields delivery={delivery} />
      </Fold>
    </Box>
  );
}
