import { useEffect } from 'react';

/**
 * Names the screen whose handlers are in place. Until then its markup is only a picture from the server, and a key or
 * click would be lost.
 */
export function useListening(screen: string): void {
  useEffect(() => {
    document.body.dataset.listening = screen;
    return () => {
      if (document.body.dataset.listening === screen) delete document.body.dataset.listening;
    };
  }, [screen]);
}
