import { AuditPage } from '@/interface/audit/AuditPage';
import { PlainFrame } from '@/interface/shell/PlainFrame';

export default function Audit() {
  return (
    <PlainFrame here="audit">
      <AuditPage />
    </PlainFrame>
  );
}
