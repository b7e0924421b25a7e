/** Addresses of what a page shows or downloads; apart from the client, so that they come without its schemas. */
export const urls = {
  jobEventsUrl: (piece: string) => `/api/pieces/${piece}/jobs/events`,
  modelUrl: (piece: string, sha: string) => `/api/pieces/${piece}/assets/${sha}`,
  /** The same model with pictures a page can read. */
  drawnUrl: (piece: string, sha: string) => `/api/pieces/${piece}/assets/${sha}/drawn`,
  coverUrl: (piece: string, revision: number) => `/api/pieces/${piece}/cover?revision=${revision}`,
  packageUrl: (piece: string, kind: 'glb' | 'bundle') => `/api/pieces/${piece}/packages/${kind}`,
};
