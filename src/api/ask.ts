/** The client for a page that first shows what the server sent with it: it comes with the first question. */
export const ask = async <T>(what: (client: typeof import('./client').api) => Promise<T>): Promise<T> =>
  what((await import('./client')).api);
