import { SourcesStage } from '@/interface/sources/SourcesStage';

export default function Page() {
  return <SourcesStage />;
}
