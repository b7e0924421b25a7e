import { ulid } from 'ulid';

export const newId = (): string => ulid();
