/** The contract between browser and server: schemas of requests and answers, and the typed client. */

export { ApiFailure, api, type Upload } from './client';
export * from './schemas';
