'use client';

/** A step that fails leaves the character around it as it is: what was changed and saved stays on the screen. */
export { default } from '../../error';
