/** The contract between browser and server: schemas of requests and answers, and the typed client. */

export { ApiFailure, api } from './client';
export * from './jobs';
export * from './schemas';
export { type SendFile, type Sending, sendFiles } from './sending';
