/** The server's public surface: what routes and pages call. */
export { closeSession, countAccounts, createAccount, onSessionEnd, openSession, sessionAccount, sweepSessions } from './accounts';
export { listAssets, prepareFile, requireAsset, takeFile } from './assets';
export { audit, callerOf, noteCallers } from './audit';
export { blobSize, blobStream, collectBlobs, fileStream, readRange, sweepTemp } from './blobs';
export { takeBundle } from './bundles';
export { sweepCache } from './cache';
export { config } from './config';
export { confineReaders } from './confine';
export { coverType, keepCover } from './covers';
export { database, type Knex, migrateDown, migrateUp, openDatabase } from './db';
export { documentOf } from './documents';
export { drawnFile } from './drawn';
export { HttpError, notFound } from './errors';
export { dropFinish, keepFinish, listFinishes } from './finishes';
export { healthOf } from './health';
export {
  clearSession,
  currentAccount,
  deviceToken,
  done,
  openRoute,
  readJson,
  STRANGER_BYTES,
  sessionToken,
  setDevice,
  setSession,
  signedRoute,
  tagged,
  unchanged,
} from './http';
export { JobQueue } from './jobs';
export { checkTarget, jobs } from './lighten';
export { log } from './log';
export { serveMetrics } from './metrics';
export { type PackageKind, packageFile, packageName, weighPiece, weighYard } from './packages';
export {
  answerPiece,
  copyPiece,
  deletePiece,
  insertPiece,
  listPieces,
  newPiece,
  requireMember,
  requireOwnFiles,
  requirePiece,
  restorePiece,
  saveEdits,
  yardDocuments,
} from './pieces';
export { yardUse } from './quotas';
export { dropRecipe, keepRecipe, listRecipes } from './recipes';
export { setUpAccount, setUpFirst } from './setup';
export { rememberDevice, signIn } from './signin';
export { onStop, stopOnSignal } from './stopping';
export { receiveUpload, sweepUploads, takeUploads } from './uploads';
export { answerVersion, listVersions, nameVersion, unnameVersion } from './versions';
export { createYard, listYards, renameYard, requireYard } from './yards';
