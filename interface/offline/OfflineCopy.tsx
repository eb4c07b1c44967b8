'use client';

import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import Snackbar from '@mui/material/Snackbar';
import { useEffect, useState } from 'react';

/** A page that has just come has better things to do than to bring in what it does not need yet, ms. */
const LATER_MS = 5_000;

type News =
  /** A new version has been brought in, and waits. */
  | { readonly kind: 'ready'; readonly waiting: ServiceWorker }
  /** Another tab has gone over to it. */
  | { readonly kind: 'changed' };

/** Has the browser hold a copy of all files, and tells when there is a new version. @returns ends it */
function holdCopy(onNews: (news: News) => void): () => void {
  const { serviceWorker } = navigator;
  let ended = false;
  let hadOne = serviceWorker.controller !== null;
  const changed = (): void => {
    const hasOne = serviceWorker.controller !== null;
    // The first of all takes nobody's place, and neither does the next once the browser has cleared the site's data.
    if (hadOne && hasOne && !ended) onNews({ kind: 'changed' });
    hadOne = hasOne;
  };
  serviceWorker.addEventListener('controllerchange', changed);
  const register = async (): Promise<void> => {
    const registration = await serviceWorker.register('/serviceWorker.js', { updateViaCache: 'none' });
    const look = (): void => {
      const { waiting } = registration;
      // The first version of all waits for nobody.
      if (waiting && serviceWorker.controller && !ended) onNews({ kind: 'ready', waiting });
    };
    const follow = (): void => registration.installing?.addEventListener('statechange', look);
    look();
    // One may be on its way already: the browser looks for it whenever a page is opened.
    follow();
    registration.addEventListener('updatefound', follow);
  };
  // Where it cannot be had, everything goes on with the server.
  const timer = setTimeout(() => void register().catch(() => undefined), LATER_MS);
  return () => {
    ended = true;
    clearTimeout(timer);
    serviceWorker.removeEventListener('controllerchange', changed);
  };
}

/** Holds a copy of the product in the browser, so that it works without the server; asks before a new version takes its place. */
export function OfflineCopy() {
  const [news, setNews] = useState<News | null>(null);
  const [asked, setAsked] = useState(false);
  useEffect(() => {
    if (!('serviceWorker' in navigator) || process.env.NODE_ENV === 'development') return;
    return holdCopy(setNews);
  }, []);
  useEffect(() => {
    // This tab asked for it.
    if (asked && news?.kind === 'changed') window.location.reload();
  }, [asked, news]);
  if (!news || asked) return null;
  const take = (): void => {
    if (news.kind === 'changed') return window.location.reload();
    setAsked(true);
    news.waiting.postMessage({ type: 'SKIP_WAITING' });
  };
  return (
    <Snackbar open anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}>
      <Alert
        severity="info"
        variant="outlined"
        role="status"
        onClose={() => setNews(null)}
        sx={{ bgcolor: 'background.paper' }}
        action={
          <>
            <Button color="inherit" onClick={take}>
              {news.kind === 'ready' ? 'Load it' : 'Reload'}
            </Button>
            <Button color="inherit" onClick={() => setNews(null)}>
              Later
            </Button>
          </>
        }
      >
        {news.kind === 'ready'
          ? 'There is a new version of Dengung. The page is loaded anew for it; projects stay as they are.'
          : 'Another tab has loaded a new version of Dengung. Reload this one too, before you go on.'}
      </Alert>
    </Snackbar>
  );
}
