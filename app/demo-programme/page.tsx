import { DemoOpener } from '@/interface/demo/DemoOpener';

/** Opens the demo programme; with `?fresh` a further copy of it, as it is shipped. */
export default async function DemoPage({
  searchParams,
}: {
  searchParams: Promise<Record<string, string | undefined>>;
}) {
  return <DemoOpener fresh={'fresh' in (await searchParams)} />;
}
