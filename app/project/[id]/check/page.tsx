import { CheckStage } from '@/interface/check/CheckStage';

export default function Page() {
  return <CheckStage />;
}
