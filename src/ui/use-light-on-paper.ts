'use client';

import { useEffect } from 'react';

/** Takes the light theme while the page is printed: paper is white, and browsers leave dark grounds out. */
export function useLightOnPaper(): void {
  useEffect(() => {
    const paper = window.matchMedia('print');
    const { dataset } = document.documentElement;
    let onScreen = dataset.theme;
    const change = () => {
      if (paper.matches) {
        onScreen = dataset.theme;
        dataset.theme = 'chalk';
      } else dataset.theme = onScreen;
    };
    paper.addEventListener('change', change);
    return () => paper.removeEventListener('change', change);
  }, []);
}
