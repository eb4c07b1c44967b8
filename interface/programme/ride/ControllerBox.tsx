'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { useStore } from 'zustand';
import { faderText } from '@/engine/controllers';
import { useSession } from '../../session/SessionContext';
import { externalFader, simulated } from './externalFader';

/** The simulated controller's own fader: 0 to 127, as a controller sends it. */
function SimulatedFader() {
  const [value, setValue] = useState(85);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75 }}>
      <label htmlFor="simulated-fader">Simulated fader</label>
      <input
        id="simulated-fader"
        type="range"
        min={0}
        max={127}
        value={value}
        onChange={(event) => {
          setValue(Number(event.target.value));
          simulated.move(Number(event.target.value));
        }}
        style={{ width: 150 }}
      />
      <output htmlFor="simulated-fader">{value}</output>
    </Box>
  );
}

/** An external fader: which one, learnt by moving it, and whether it has taken over. */
export function ControllerBox() {
  const session = useSession();
  const { inputs, address, learning, hasIt, failure, isSimulated } = useStore(externalFader.store);
  useEffect(() => externalFader.attach(session.riding), [session]);
  return (
    <Box
      sx={{ display: 'flex', flexDirection: 'column', gap: 0.75, fontSize: 12.5, width: 290, flex: 'none' }}
    >
      <Box sx={{ fontWeight: 550 }}>External fader</Box>
      <Box role="status" data-controller={hasIt ? 'has' : address ? 'waits' : 'none'}>
        {learning
          ? 'Move the fader that is to be used.'
          : address
            ? `${faderText(address)}. ${hasIt ? 'It moves this one; bring it back to 0 dB to let go.' : 'It takes over as it comes past where this one stands.'}`
            : inputs === null
              ? 'None is connected to this page yet.'
              : inputs.length === 0
                ? 'No MIDI controller was found. Plug one in, then connect again.'
                : `Found: ${inputs.map(({ name }) => name).join(', ')}.`}
      </Box>
      {failure && <Box sx={{ color: 'warning.main' }}>{failure}</Box>}
      <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
        <Button color="inherit" onClick={() => void externalFader.connect()}>
          Connect MIDI
        </Button>
        <Button
          color="inherit"
          disabled={!isSimulated && (inputs === null || inputs.length === 0)}
          onClick={() => externalFader.learn()}
        >
          {learning ? 'Learning…' : 'Learn'}
        </Button>
        <Button color="inherit" aria-pressed={isSimulated} onClick={() => externalFader.toggleSimulated()}>
          {isSimulated ? 'Remove simulated' : 'Simulate one'}
        </Button>
      </Box>
      {isSimulated && <SimulatedFader />}
    </Box>
  );
}
