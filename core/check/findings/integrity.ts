import { finding, type Finding } from './finding';
import type { CheckMaterial } from './material';

/** Why a sound cannot be certified, each reason a finding that breaks the delivery whatever its target. */
export const integrityFaults = ({ integrity, seconds }: CheckMaterial): Finding[] =>
  integrity.map(({ kind, sentence }, index) =>
    finding(
      {
        ...{ kind: 'integrity', from: 0, to: seconds, whole: true, value: null, limit: null, unit: '' },
        ...{ weight: 'breaks', sentence },
      },
      index === 0 ? kind : `${kind} ${index}`,
    ),
  );
