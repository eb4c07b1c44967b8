import Link from 'next/link';

export default function NotFound() {
  return (
    <main style={{ display: 'grid', placeItems: 'center', height: '100dvh', textAlign: 'center' }}>
      <div>
        <h1>There is nothing here</h1>
        <Link href="/projects">To all projects</Link>
      </div>
    </main>
  );
}
