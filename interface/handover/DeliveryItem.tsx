import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Checkbox from '@mui/material/Checkbox';
import { deliveryFault, type DeliveryFile } from '@/core/deliver/deliveryFiles';
import { becomesRf64 } from '@/core/deliver/fileKinds';
import { deliveryWords } from '@/core/deliver/deliveryWords';
import { staleReason } from '@/core/deliver/staleness';
import type { Delivery } from '@/core/programme/delivery';
import { targetsOf } from '@/core/programme/edits/check';
import { changeDelivery } from '@/core/programme/edits/deliveries';
import type { FileLine } from '../session/deliveries/fileLine';
import { useProject, useSession } from '../session/SessionContext';
import { FileRow } from './FileRow';

/** A delivery: what it is in one line, and its files. */
export function DeliveryItem({
  delivery,
  files,
  lines,
  picked,
  selected,
  selectedFile,
  onPick,
  onSelect,
  onFile,
}: {
  delivery: Delivery;
  /** Those it comes to. */
  files: readonly DeliveryFile[];
  lines: ReadonlyMap<string, FileLine>;
  picked: boolean;
  selected: boolean;
  selectedFile: string | null;
  onPick: (picked: boolean) => void;
  onSelect: () => void;
  onFile: (key: string) => void;
}) {
  const project = useProject();
  const session = useSession();
  const fault = deliveryFault(project, delivery);
  const words = deliveryWords(project, delivery);
  const rate = (delivery.sampleRate ?? project.sampleRate) / project.sampleRate;
  const large = files.some(({ from, to }) => becomesRf64(project, delivery, Math.ceil((to - from) * rate)));
  // What was rendered before its settings changed is still there to be saved.
  const gone = [...lines.values()].filter(
    ({ file }) => file.delivery.id === delivery.id && !files.some(({ key }) => key === file.key),
  );
  return (
    <Box
      component="li"
      data-delivery={delivery.id}
      sx={{ listStyle: 'none', borderBottom: 1, borderColor: 'divider' }}
    >
      <Box
        sx={{
          ...{ display: 'flex', alignItems: 'center', px: 0.5, minHeight: 40 },
          bgcolor: selected ? 'action.selected' : undefined,
        }}
      >
        <Checkbox
          size="small"
          checked={picked}
          onChange={(_, checked) => onPick(checked)}
          slotProps={{ input: { 'aria-label': `Render ${delivery.pattern}` } }}
        />
        <ButtonBase
          onClick={onSelect}
          aria-pressed={selected}
          sx={{
            ...{ flex: 1, justifyContent: 'flex-start', textAlign: 'left', fontFamily: 'inherit', py: 0.75 },
            ...{ flexDirection: 'column', alignItems: 'flex-start', lineHeight: '17px' },
          }}
        >
          <Box sx={{ fontSize: 13, fontWeight: 600, overflowWrap: 'anywhere' }}>
            {delivery.target?.name ?? 'No target'}
            <Box component="span" sx={{ fontWeight: 450, color: 'text.secondary', pl: 1 }}>
              {delivery.pattern}
            </Box>
          </Box>
          <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
            {words}
            {large && ' · over 4 GB, so it becomes RF64'}
          </Box>
        </ButtonBase>
      </Box>
      {delivery.target && !targetsOf(project).some(({ id }) => id === delivery.target!.id) && (
        <Box
          role="note"
          data-other-target
          sx={{ pl: 4.5, pb: 0.75, fontSize: 12, display: 'flex', alignItems: 'center', gap: 1 }}
        >
          Judged by {delivery.target.name}; the programme’s target is {project.target.name}.
          <Button
            size="small"
            onClick={() =>
              session.do(`Set target of ${delivery.pattern} to ${project.target.name}`, (before) =>
                changeDelivery(before, delivery.id, { target: before.target }),
              )
            }
          >
            Use {project.target.name}
          </Button>
        </Box>
      )}
      {fault && (
        <Box role="alert" data-delivery-fault sx={{ pl: 4.5, pb: 0.75, fontSize: 12, color: 'error.main' }}>
          {fault}
        </Box>
      )}
      <Box role="list" aria-label={`Files of ${delivery.pattern}`} sx={{ pb: 0.5 }}>
        {[...files, ...gone.map(({ file }) => file)].map((file) => {
          const line = lines.get(file.key) ?? null;
          const { result } = line ?? {};
          return (
            <FileRow
              key={file.key}
              file={file}
              line={line}
              stale={line && result ? staleReason(line.file, result.project, project, files) : null}
              selected={selectedFile === file.key}
              onSelect={() => onFile(file.key)}
            />
          );
        })}
      </Box>
    </Box>
  );
}
