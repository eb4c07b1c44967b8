import { useEffect, useState } from 'react';
import { storesLast } from '@/storage/stores';

let known: Promise<boolean> | null = null;

/** Whether what is stored here outlives the page; `null` until that is known. */
export function useStoresLast(): boolean | null {
  const [lasts, setLasts] = useState<boolean | null>(null);
  useEffect(() => {
    let gone = false;
    known ??= storesLast().catch(() => false);
    void known.then((is) => {
      if (!gone) setLasts(is);
    });
    return () => {
      gone = true;
    };
  }, []);
  return lasts;
}
