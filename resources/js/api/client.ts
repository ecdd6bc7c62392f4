import createClient, { type Middleware } from 'openapi-fetch';
import { offerToAsk } from './asking';
import { confirmFirst } from './confirming';
import type { components, paths } from './schema';
import { untouchedSeconds } from './touched';

export type Schemas = components['schemas'];
export type Experiment = Schemas['Experiment'];
export type ExperimentDraft = Schemas['ExperimentDraft'];
export type Observations = Schemas['Observations'];
export type LinkName = Schemas['LinkName'];
export type LinkState = Schemas['LinkState'];
export type Site = Schemas['Site'];
export type Person = Schemas['Person'];

/** An answer that is not what was asked for: its status, what it says, and what it says of single fields. */
export class Problem extends Error {
    constructor(
        readonly status: number,
        message: string,
        readonly errors: Record<string, string[]> = {},
    ) {
        super(message);
    }

    get isSignedOut(): boolean {
        return this.status === 401 || this.status === 419;
    }
}

const sendToken: Middleware = {
    onRequest({ request }) {
        // Laravel's protection against forged requests: the cookie's value comes back as a header.
        const token = /(?:^|; )XSRF-TOKEN=([^;]*)/.exec(document.cookie)?.[1];
        if (token) {
            request.headers.set('X-XSRF-TOKEN', decodeURIComponent(token));
        }
        request.headers.set('Accept', 'application/json');
        request.headers.set('Pellix-Untouched', String(untouchedSeconds()));

        return request;
    },
};

export const api = createClient<paths>({ baseUrl: '/', credentials: 'same-origin' });
api.use(sendToken);
// Answers pass the last one first: whoever had to prove who they are may still have to ask.
api.use(offerToAsk);
api.use(confirmFirst);

/** The data of an answer, or a Problem thrown. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
    let result;
    try {
        result = await call;
    } catch {
        throw new Problem(0, 'Pellix does not answer. Check that it is running, then try again.');
    }
    const { data, error, response } = result;
    if (response.ok) {
        return data as T;
    }
    const { message, errors } = (error ?? {}) as { message?: string; errors?: Record<string, string[]> };
    if (response.status === 419) {
        throw new Problem(419, 'Your session has ended. Sign in again; what you typed is still here.');
    }
    throw new Problem(response.status, message || `The server answered ${response.status}.`, errors);
}
