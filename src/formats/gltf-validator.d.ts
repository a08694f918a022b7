declare module 'gltf-validator' {
  interface Issue {
    code: string;
    message: string;
    /** 0 error, 1 warning, 2 information, 3 hint. */
    severity: 0 | 1 | 2 | 3;
    pointer?: string;
  }
  interface Report {
    issues: { numErrors: number; numWarnings: number; numInfos: number; numHints: number; messages: Issue[] };
  }
  export function validateBytes(bytes: Uint8Array, options?: { maxIssues?: number }): Promise<Report>;
}
