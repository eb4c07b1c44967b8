import { HandoverStage } from '@/interface/handover/HandoverStage';

export default function Page() {
  return <HandoverStage />;
}
