import type { Middleware } from 'openapi-fetch';

export type Proof = 'password' | 'code';

/** Asks the person; true once the server knows again who they are, false where they let it be. */
type Asker = (proof: Proof, message: string) => Promise<boolean>;

let asker: Asker | null = null;
const spare = new Map<string, Request>();

/** Says who asks; there is one dialog for the whole interface. */
export function onConfirm(ask: Asker | null): void {
    asker = ask;
}

/** What the server does only for whoever has just proved who they are is asked for again once they have. */
export const confirmFirst: Middleware = {
    onRequest({ request, id }) {
        if (request.method !== 'GET') {
            spare.set(id, request.clone());
        }
    },
    async onResponse({ response, id }) {
        const again = spare.get(id);
        spare.delete(id);
        if (response.status !== 423 || !again || !asker) {
            return undefined;
        }
        const { confirm, message } = (await response.clone().json()) as { confirm: Proof; message: string };
        if (!(await asker(confirm, message))) {
            return undefined;
        }
        // The session's protection against forged requests goes on; a body can be sent once, and this one was not.
        return fetch(again);
    },
    onError({ id }) {
        spare.delete(id);
    },
};
