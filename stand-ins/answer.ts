import type { IncomingMessage } from 'node:http';
import type { Problem } from '../src/connect/wire';

export interface Request {
  method: string;
  path: string;
  query: URLSearchParams;
  headers: IncomingMessage['headers'];
  /** Parsed JSON, or form fields, or the bytes of a file; null without a body. */
  body: unknown;
}

export interface Answer {
  status: number;
  headers?: Record<string, string>;
  /** An object goes out as JSON, text as it is. */
  body?: unknown;
}

export const problem = (p: Omit<Problem, 'type'> & { type?: string }): Answer => ({
  status: p.status,
  headers: { 'content-type': 'application/problem+json' },
  body: { type: 'about:blank', ...p },
});

export type Handler = (request: Request) => Answer | null;
