import type { UseQueryResult } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Button } from './Button';

/** Shows data when it is there, and until then that it is coming, or why it is not. */
export function Waiting<T>({ query, children }: { query: UseQueryResult<T>; children: (data: T) => ReactNode }) {
    if (query.data !== undefined) {
        return (
            <>
                {query.isError && <Trouble query={query} />}
                {children(query.data)}
            </>
        );
    }

    return query.isError ? <Trouble query={query} /> : <p className="p-6 text-soft">Reading…</p>;
}

function Trouble<T>({ query }: { query: UseQueryResult<T> }) {
    return (
        <div role="alert" className="flex flex-wrap items-center gap-4 border-b border-broken p-4 text-broken">
            <span>{query.error?.message}</span>
            <Button onClick={() => query.refetch()}>Try again</Button>
        </div>
    );
}
