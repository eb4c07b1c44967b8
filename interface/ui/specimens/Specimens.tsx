'use client';

import AddIcon from '@mui/icons-material/Add';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState, type ReactNode } from 'react';
import { EBU_R128 } from '@/core/check/shipped';
import { verdictOf } from '@/core/check/verdict';
import { VerdictView } from '../../shell/VerdictView';
import { CompareFigures } from '../CompareFigures';
import { DropArea } from '../DropArea';
import { FailureNote } from '../FailureNote';
import { OneOf } from '../OneOf';
import { LevelMark } from '../LevelMark';
import { NameField } from '../../editing/NameField';
import { PickFiles } from '../PickFiles';
import { ProgressLine } from '../ProgressLine';
import { WaveCanvas } from '../WaveCanvas';
import { WrongFile } from '../WrongFile';
import { ClipTable } from './ClipTable';
import { FIGURES, LEVELLED, TONE } from './made';

const nothing = (): void => undefined;

function Specimen({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Box component="section" aria-label={name} sx={{ mb: 2 }}>
      <Box component="h2" sx={{ m: 0, mb: 0.5, fontSize: 11, fontWeight: 500, color: 'text.secondary' }}>
        {name}
      </Box>
      {children}
    </Box>
  );
}

/** Every shared part once, with made-up data. */
function All() {
  const [depth, setDepth] = useState<(typeof DEPTHS)[number]>('24-bit');
  const [name, setName] = useState('Frostline, reel 2');
  return (
    <>
      <Specimen name="LevelMark: under, within, over, unknown">
        {(['under', 'within', 'over', 'unknown'] as const).map((standing) => (
          <LevelMark key={standing} standing={standing} size={14} />
        ))}
      </Specimen>
      <Specimen name="VerdictView">
        <VerdictView verdict={verdictOf(FIGURES, EBU_R128)} of="the programme" />
      </Specimen>
      <Specimen name="CompareFigures">
        <CompareFigures a={FIGURES} b={LEVELLED} aTitle="As it was" bTitle="Levelled" />
      </Specimen>
      <Specimen name="WaveCanvas, with true peaks over −1.0 dBTP; canvases follow the theme of the page">
        <WaveCanvas {...TONE} height={48} limitDbtp={-1} label="A tone that swells" />
      </Specimen>
      <Specimen name="DataTable, ColumnMenu">
        <Box sx={{ height: 130, display: 'flex' }}>
          <ClipTable />
        </Box>
      </Specimen>
      <Specimen name="FailureNote, WrongFile">
        <FailureNote message="The browser’s storage is full." hint="Free disk space, then try again." />
        <WrongFile wrong={['notes.pdf']} hint="Sound and cuts can be added." />
      </Specimen>
      <Specimen name="ProgressLine">
        <ProgressLine label="Measuring narrator-1.wav" done={0.4} onCancel={nothing} />
      </Specimen>
      <Specimen name="DropArea, PickFiles">
        <DropArea onFiles={nothing} label="Drop sound here">
          <Box sx={{ p: 2, border: 1, borderColor: 'divider' }}>
            <PickFiles label="Add files" multiple icon={<AddIcon />} onFiles={nothing} />
          </Box>
        </DropArea>
      </Specimen>
      <Specimen name="OneOf, NameField, buttons">
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          <OneOf label="Depth" of={DEPTHS} value={depth} words={(each) => each} onSelect={setDepth} />
          <NameField label="Name" name={name} most={80} sx={{ width: 180 }} onName={setName} />
          <Button variant="contained">Apply</Button>
          <Button variant="outlined">Level…</Button>
          <Button color="inherit">Cancel</Button>
          <Button variant="contained" disabled>
            Disabled
          </Button>
        </Box>
      </Specimen>
    </>
  );
}

const DEPTHS = ['16-bit', '24-bit'] as const;

/** All shared parts, side by side in both themes. */
export function Specimens() {
  return (
    <Box component="main" sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', minHeight: '100dvh' }}>
      {(['light', 'dark'] as const).map((theme) => (
        <Box
          key={theme}
          {...{ [`data-${theme}`]: '' }}
          sx={{ p: 2, bgcolor: 'background.default', color: 'text.primary', minWidth: 0 }}
        >
          <Box component="h1" sx={{ m: 0, mb: 1.5, fontSize: 15 }}>
            Shared parts, {theme}
          </Box>
          <All />
        </Box>
      ))}
    </Box>
  );
}
