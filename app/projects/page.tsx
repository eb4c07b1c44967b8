import { PlainFrame } from '@/interface/shell/PlainFrame';
import { ShelfPage } from '@/interface/shelf/ShelfPage';

export default function ProjectsPage() {
  return (
    <PlainFrame here="projects">
      <ShelfPage />
    </PlainFrame>
  );
}
