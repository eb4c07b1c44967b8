import { ProgrammeStage } from '@/interface/programme/ProgrammeStage';

export default function Page() {
  return <ProgrammeStage />;
}
