/** The typed client: every answer is parsed, every failure is an ApiFailure with the server's own sentence. */
import type * as z from 'zod';
import { JobAnswer, type JobRequest } from './jobs';
import {
  ApiErrorBody,
  CreatedAnswer,
  Done,
  KeptFinish,
  type KeptFinishDraft,
  NamedRecipe,
  type NamedRecipeDraft,
  PieceAnswer,
  PrepareAnswer,
  type PrepareRequest,
  SaveAnswer,
  type SaveRequest,
  type TakeRequest,
  UploadAnswer,
  Version,
  VersionAnswer,
  WeightAnswer,
  YardPiece,
  YardSummary,
  YardWeights,
} from './schemas';
import { urls } from './urls';

export class ApiFailure extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly details?: unknown,
  ) {
    super(message);
  }
  /** The server did not answer at all. */
  get offline(): boolean {
    return this.status === 0 || this.status === 502 || this.status === 503;
  }
}

const OFFLINE = 'The server does not answer, so nothing was done there. Try again when it is back.';

async function failureOf(response: Response): Promise<ApiFailure> {
  const body = ApiErrorBody.safeParse(await response.json().catch(() => null));
  if (body.success) return new ApiFailure(response.status, body.data.error.code, body.data.error.message, body.data.error.details);
  return new ApiFailure(response.status, 'http/failed', `The server answered with ${response.status}.`);
}

const reach = (url: string, init: RequestInit): Promise<Response> =>
  fetch(url, init).catch(() => {
    throw new ApiFailure(0, 'http/offline', OFFLINE);
  });

async function call<T extends z.ZodTypeAny>(schema: T, method: string, url: string, body?: unknown): Promise<z.infer<T>> {
  const raw = body instanceof Blob;
  const response = await reach(url, {
    method,
    headers: raw ? { 'content-type': body.type } : body === undefined ? {} : { 'content-type': 'application/json' },
    body: raw ? body : body === undefined ? undefined : JSON.stringify(body),
  });
  if (!response.ok) throw await failureOf(response);
  return schema.parse(await response.json());
}

export const api = {
  signOut: () => call(Done, 'DELETE', '/api/session'),
  listYards: () => call(YardSummary.array(), 'GET', '/api/yards'),
  createYard: (name: string) => call(CreatedAnswer, 'POST', '/api/yards', { name }),
  renameYard: (yard: string, name: string) => call(Done, 'PUT', `/api/yards/${yard}`, { name }),
  /** Of all its pieces; those that are null are asked for again. */
  weighYard: (yard: string) => call(YardWeights, 'GET', `/api/yards/${yard}/weights`),
  listPieces: (yard: string) => call(YardPiece.array(), 'GET', `/api/yards/${yard}/pieces`),
  createPiece: (yard: string, name: string) => call(CreatedAnswer, 'POST', `/api/yards/${yard}/pieces`, { name }),
  bringBundle: (yard: string, file: Blob) =>
    call(CreatedAnswer, 'POST', `/api/yards/${yard}/bundles`, new Blob([file], { type: 'application/zip' })),
  listFinishes: (yard: string) => call(KeptFinish.array(), 'GET', `/api/yards/${yard}/finishes`),
  keepFinish: (yard: string, body: KeptFinishDraft) => call(KeptFinish.array(), 'POST', `/api/yards/${yard}/finishes`, body),
  dropFinish: (yard: string, id: string) => call(KeptFinish.array(), 'DELETE', `/api/yards/${yard}/finishes/${id}`),
  listRecipes: (yard: string) => call(NamedRecipe.array(), 'GET', `/api/yards/${yard}/recipes`),
  keepRecipe: (yard: string, body: NamedRecipeDraft) => call(NamedRecipe.array(), 'POST', `/api/yards/${yard}/recipes`, body),
  dropRecipe: (yard: string, id: string) => call(NamedRecipe.array(), 'DELETE', `/api/yards/${yard}/recipes/${id}`),
  getPiece: (piece: string) => call(PieceAnswer, 'GET', `/api/pieces/${piece}`),
  deletePiece: (piece: string) => call(Done, 'DELETE', `/api/pieces/${piece}`),
  restorePiece: (piece: string) => call(Done, 'POST', `/api/pieces/${piece}/restore`, {}),
  copyPiece: (piece: string) => call(CreatedAnswer, 'POST', `/api/pieces/${piece}/copy`, {}),
  saveEdits: (piece: string, body: SaveRequest) => call(SaveAnswer, 'POST', `/api/pieces/${piece}/edits`, body),
  listVersions: (piece: string) => call(Version.array(), 'GET', `/api/pieces/${piece}/versions`),
  getVersion: (piece: string, revision: number) => call(VersionAnswer, 'GET', `/api/pieces/${piece}/versions/${revision}`),
  nameVersion: (piece: string, revision: number, name: string) =>
    call(Version.array(), 'PUT', `/api/pieces/${piece}/versions/${revision}`, { name }),
  unnameVersion: (piece: string, revision: number) => call(Version.array(), 'DELETE', `/api/pieces/${piece}/versions/${revision}`),
  putCover: (piece: string, revision: number, picture: Blob) =>
    call(Done, 'PUT', `/api/pieces/${piece}/cover?revision=${revision}`, picture),
  prepare: (piece: string, body: PrepareRequest) => call(PrepareAnswer, 'POST', `/api/pieces/${piece}/prepare`, body),
  weigh: (piece: string) => call(WeightAnswer, 'GET', `/api/pieces/${piece}/weight`),
  addJob: (piece: string, body: JobRequest) => call(JobAnswer, 'POST', `/api/pieces/${piece}/jobs`, body),
  stopJob: (piece: string, job: string) => call(JobAnswer, 'DELETE', `/api/pieces/${piece}/jobs/${job}`),
  retryJob: (piece: string, job: string) => call(JobAnswer, 'POST', `/api/pieces/${piece}/jobs/${job}`, {}),
  ...urls,
  /** @throws {ApiFailure} it cannot be had, and why */
  checkPackage: async (piece: string, kind: 'glb' | 'bundle'): Promise<void> => {
    const url = `/api/pieces/${piece}/packages/${kind}`;
    const response = await reach(url, { method: 'HEAD' });
    // an answer to HEAD has no words: those are asked for
    if (response.ok) return;
    const told = await reach(url, {});
    if (told.ok) return void told.body?.cancel();
    throw await failureOf(told);
  },
  takeUploads: (piece: string, body: TakeRequest) => call(UploadAnswer, 'POST', `/api/pieces/${piece}/assets`, body),
};
