'use client';

import SaveIcon from '@mui/icons-material/SaveAlt';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo } from 'react';
import { verdictOf } from '@/core/check/verdict';
import { formatWords } from '@/core/deliver/fileKinds';
import { damagedSources } from '@/core/programme/damagedSources';
import type { Project } from '@/core/programme/model';
import { byteSize, clock } from '@/core/text/figures';
import type { DeliveredFile, FileLine } from '../session/deliveries/fileLine';
import { useSession } from '../session/SessionContext';
import { VerdictView } from '../shell/VerdictView';
import { CompareFigures } from '../ui/CompareFigures';
import { WrongFile } from '../ui/WrongFile';
import { saveRendered } from './handoverActions';
import { PutIntoFilm } from './PutIntoFilm';
import { SendFile } from './SendFile';

/** Sources of a programme that are damaged: its figures rest on them. */
function Damaged({ project }: { project: Project }) {
  const damaged = useMemo(() => damagedSources(project), [project]);
  if (damaged.length === 0) return null;
  return (
    <Alert severity="warning" variant="outlined" sx={{ py: 0 }}>
      The figures rest on damaged files:{' '}
      {damaged.map(({ name, warnings }) => `${name}: ${warnings.join(' ')}`).join(' ')}
    </Alert>
  );
}

const hintFor = ({ wrong }: DeliveredFile): string =>
  wrong.some((said) => said.includes('full scale'))
    ? 'Lower the programme, or select float.'
    : 'Render it again; if it happens again, report it.';

/** A file that was delivered: its verdict beside that of what went into it, all figures, and its checksum. */
export function FileDetails({ line, stale }: { line: FileLine; stale: string | null }) {
  const session = useSession();
  const { file, result } = line;
  const target = file.delivery.target;
  const predicted = useMemo(
    () => (result && target && result.verdict ? verdictOf(result.predicted, target) : null),
    [result, target],
  );
  if (!result) return null;
  const { name, bytes, verdict, corrected, wrong, codecOver, sum, sha256, savedAs, at, project } = result;
  return (
    <Box
      component="section"
      aria-label="The finished file"
      sx={{ p: 1.5, display: 'flex', flexDirection: 'column', gap: 1.25, fontSize: 13 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Typography variant="h2" sx={{ flex: 1, overflowWrap: 'anywhere' }}>
          {name}
        </Typography>
        {result.blob && (
          <Button
            variant={wrong.length > 0 || stale ? 'outlined' : 'contained'}
            startIcon={<SaveIcon />}
            onClick={() => saveRendered(session, file.key)}
          >
            {wrong.length > 0 ? 'Save anyway' : 'Save file'}
          </Button>
        )}
      </Box>
      <Box sx={{ color: 'text.secondary', fontSize: 12 }}>
        {formatWords(file.delivery.format)}, {byteSize(bytes)},{' '}
        {clock((file.to - file.from) / project.sampleRate)} of the programme, finished {at}
        {savedAs && `, saved as ${savedAs}`}
      </Box>
      <WrongFile wrong={wrong} hint={hintFor(result)} />
      {stale && (
        <Alert severity="warning" variant="outlined" sx={{ py: 0 }}>
          {stale} Render it again to hand over what is there now.
        </Alert>
      )}
      {codecOver && (
        <Alert severity="warning" variant="outlined" sx={{ py: 0 }} data-codec-over>
          {codecOver}
        </Alert>
      )}
      {corrected && <Box data-corrected>{corrected}</Box>}
      {sum && <Box data-stem-sum>{sum}</Box>}
      <Damaged project={project} />
      {verdict && predicted && (
        <Box sx={{ border: 1, borderColor: 'divider', borderRadius: 1, bgcolor: 'background.paper' }}>
          <VerdictView
            verdict={predicted}
            of="worked out from the mix"
            before={<Box sx={{ width: 72, fontWeight: 600 }}>Predicted</Box>}
          />
          <Box sx={{ borderTop: 1, borderColor: 'divider' }} data-file-verdict>
            <VerdictView
              verdict={verdict}
              of="the file, read back"
              before={<Box sx={{ width: 72, fontWeight: 600 }}>File</Box>}
            />
          </Box>
        </Box>
      )}
      {!verdict && (
        <Box data-file-verdict sx={{ color: 'text.secondary' }}>
          {target ? 'A part of the mix is not judged by itself.' : 'It has no target to be judged by.'}
        </Box>
      )}
      <CompareFigures a={result.predicted} b={result.figures} aTitle="Predicted" bTitle="File" />
      <Box sx={{ fontSize: 12 }}>
        <Box sx={{ color: 'text.secondary' }}>SHA-256 of the file</Box>
        <Box data-sha256 sx={{ fontFamily: 'monospace', fontSize: 11.5, overflowWrap: 'anywhere' }}>
          {sha256}
        </Box>
      </Box>
      {file.delivery.what.kind === 'programme' && (
        <PutIntoFilm key={`${file.key} ${sha256}`} result={result} />
      )}
      <SendFile fileKey={file.key} result={result} />
    </Box>
  );
}
