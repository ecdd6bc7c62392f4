import { useMutation, useQueryClient } from '@tanstack/react-query';

/** A change that makes what was read of some things old. */
export function useChange<In, Out>(keys: string[], change: (given: In) => Promise<Out>) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: change,
        onSuccess: () => Promise.all(keys.map((key) => client.invalidateQueries({ queryKey: [key] }))),
    });
}
