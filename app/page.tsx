import { redirect } from 'next/navigation';
import { DemoOpener } from '@/interface/demo/DemoOpener';

/** The way in: the demo programme when the server was started for it, else the shelf of projects. */
export default function Home() {
  if (process.env['DENGUNG_DEMO'] === '1') return <DemoOpener />;
  redirect('/projects');
}
