/** The web server's exit code where its port cannot be opened: starting it again is no use. */
export const CANNOT_LISTEN = 98;
