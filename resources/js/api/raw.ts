import { api } from './client';

/** A request whose path is known only now, sent through what all others go through. */
export async function request(method: 'POST' | 'PUT', path: string, body: unknown, headers: Record<string, string>): Promise<Response> {
    const send = api.request as unknown as (
        method: string,
        path: string,
        options: { body: unknown; headers: Record<string, string>; parseAs: 'stream' },
    ) => Promise<{ response: Response; error?: unknown }>;
    const { response, error } = await send(method.toLowerCase(), path, { body, headers, parseAs: 'stream' });
    // The library has read what an error says already.
    return response.ok ? response : new Response(JSON.stringify(error ?? {}), { status: response.status });
}
