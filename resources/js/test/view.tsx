import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import type { ReactElement } from 'react';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { afterEach } from 'vitest';
import type { Schemas } from '../api/client';

export const SITE = {
    key: 'plx_a',
    name: 'Larkhollow',
    hosts: ['larkhollow.localhost'],
    time_zone: 'UTC',
    currency: 'EUR',
    srm_alpha: 0.001,
    snippet: '',
    guards: [],
    forms: [],
    mark: null,
    demo_origin: null,
} as unknown as Schemas['Site'];

afterEach(cleanup);

/** Shows a view at an address below the site; every other address says where it is. */
export function open(view: ReactElement, path: string, at: string = path) {
    const client = new QueryClient({ defaultOptions: { queries: { retry: false, refetchInterval: false } } });
    client.setQueryData(['site', SITE.key], SITE);
    const router = createMemoryRouter(
        [
            { path: `/sites/:site${path}`, element: view },
            { path: '*', element: <p>Somewhere else</p> },
        ],
        { initialEntries: [`/sites/${SITE.key}${at}`] },
    );
    render(
        <QueryClientProvider client={client}>
            <RouterProvider router={router} />
        </QueryClientProvider>,
    );

    return router;
}

export const field = (label: string | RegExp): HTMLInputElement => screen.getByLabelText(label);
export const type = (label: string | RegExp, value: string): void => void fireEvent.change(field(label), { target: { value } });
export const press = (name: string | RegExp): void => void fireEvent.click(screen.getByRole('button', { name }));
