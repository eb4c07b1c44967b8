import { notFound } from 'next/navigation';
import { Specimens } from '@/interface/ui/specimens/Specimens';

/** All shared parts in both themes, for those who work on them: `npm run dev`, then /components. */
export default function Parts() {
  if (process.env.NODE_ENV !== 'development') notFound();
  return <Specimens />;
}
