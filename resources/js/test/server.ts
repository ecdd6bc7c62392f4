import { configure } from '@testing-library/react';
import { NoResizeObserver } from './observer';

// On a busy machine a view takes longer to appear than the library waits by itself (one second).
configure({ asyncUtilTimeout: 60_000 });

/** Stands in for the server: what each address answers, and what was asked of it. Loaded before every test file. */
export interface Asked {
    method: string;
    path: string;
    query: URLSearchParams;
    body: unknown;
}

type Answer = unknown | ((asked: Asked) => unknown);

/** An answer that is not 200. */
export class Refusal {
    constructor(
        readonly status: number,
        readonly body: unknown,
    ) {}
}

let answers: Record<string, Answer> = {};
export const asked: Asked[] = [];

/** "GET /path" below the site → answer, or what makes it. */
export function serve(next: Record<string, Answer>): void {
    answers = next;
    asked.length = 0;
}

export const sentTo = (what: string): Asked[] => asked.filter((one) => `${one.method} ${one.path}` === what);

async function respond(request: Request): Promise<Response> {
    const url = new URL(request.url);
    const path = url.pathname.replace(/^\/api\/sites\/[^/]+/, '');
    const text = await request.text();
    const one: Asked = { method: request.method, path, query: url.searchParams, body: text ? JSON.parse(text) : undefined };
    asked.push(one);
    const known = answers[`${one.method} ${path}`];
    const answer = known === undefined ? new Refusal(404, { message: `Nothing answers ${one.method} ${path}.` }) : known;
    const made = typeof answer === 'function' ? (answer as (asked: Asked) => unknown)(one) : answer;
    const [status, body] = made instanceof Refusal ? [made.status, made.body] : [200, made];

    return new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });
}

// The client takes both when it is made. In Node an address must be whole, and jsdom's signals are none that it knows.
const NodeRequest = globalThis.Request;
globalThis.Request = class extends NodeRequest {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
        super(typeof input === 'string' ? new URL(input, 'http://pellix.test') : input, { ...init, signal: undefined });
    }
};
globalThis.fetch = ((request: Request) => respond(request)) as typeof fetch;
globalThis.ResizeObserver ??= NoResizeObserver as unknown as typeof ResizeObserver;
