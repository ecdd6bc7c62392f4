import type { Middleware } from 'openapi-fetch';

/** What somebody may prepare, and somebody else may do. */
export interface Refused {
    message: string;
    /** Who may. */
    who: string[];
    site: string;
    method: 'POST' | 'PUT';
    /** Below the site. */
    path: string;
    body: Record<string, unknown>;
}

let asker: ((refused: Refused) => void) | null = null;
const bodies = new Map<string, Request>();

/** Says who asks whether somebody else is to be asked; there is one dialog for the whole interface. */
export function onRefused(ask: typeof asker): void {
    asker = ask;
}

/** What was refused for want of a right, or of a second person, is offered to be asked for. */
export const offerToAsk: Middleware = {
    onRequest({ request, id }) {
        if (request.method === 'POST' || request.method === 'PUT') {
            bodies.set(id, request.clone());
        }
    },
    async onResponse({ response, id }) {
        const sent = bodies.get(id);
        bodies.delete(id);
        const where = sent && /\/api\/sites\/([^/]+)\/(.+)$/.exec(new URL(sent.url).pathname);
        if (response.status !== 403 || !sent || !where || !asker) {
            return;
        }
        const { message, ask } = (await response.clone().json()) as { message: string; ask?: string[] };
        if (ask) {
            const text = await sent.text();
            asker({
                message,
                who: ask,
                site: where[1],
                method: sent.method as 'POST' | 'PUT',
                path: where[2],
                body: text === '' ? {} : (JSON.parse(text) as Record<string, unknown>),
            });
        }
    },
    onError({ id }) {
        bodies.delete(id);
    },
};
