import { useEffect } from 'react';

/**
 * Marks the page as listening once its handlers are in place; until then the markup from the server is only a picture
 * of the screen, and a key or click would be lost.
 */
export function useListening(): void {
  useEffect(() => {
    document.body.dataset.listening = 'yes';
    return () => {
      delete document.body.dataset.listening;
    };
  }, []);
}
