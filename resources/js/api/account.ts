import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schemas } from './client';

export type Account = Schemas['Account'];
export type SignIn = Schemas['SignIn'];
export type Token = Schemas['Token'];
export type Member = Schemas['Member'];
export type Right = Schemas['Right'];
export type Invitation = Schemas['Invitation'];
export type SecurityEntry = Schemas['SecurityEntry'];

/** A change of the account: what was read of it is read again. */
function useChange<V, R>(key: readonly string[], mutationFn: (body: V) => Promise<R>) {
    const client = useQueryClient();

    return useMutation({ mutationFn, onSuccess: () => client.invalidateQueries({ queryKey: key }) });
}

export function useSignIn() {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { email: string; password: string }) => answer(api.POST('/api/session', { body })),
        onSuccess: (person) => !('needs' in person) && client.setQueryData(['session'], person),
    });
}

export const useSignInWays = () =>
    useQuery({ queryKey: ['sign-in-ways'], queryFn: () => answer(api.GET('/api/sign-in-ways')), staleTime: Infinity, retry: false });

export function useSignInCode() {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { code: string }) => answer(api.POST('/api/session/code', { body })),
        onSuccess: (person) => client.setQueryData(['session'], person),
    });
}

export const useConfirm = () =>
    useMutation({ mutationFn: (body: { password?: string; code?: string }) => answer(api.POST('/api/session/confirmed', { body })) });

export const useAskReset = () =>
    useMutation({ mutationFn: (body: { email: string }) => answer(api.POST('/api/password-resets', { body })) });

export const useReset = (token: string) =>
    useQuery({
        queryKey: ['reset', token],
        queryFn: () => answer(api.GET('/api/password-resets/{token}', { params: { path: { token } } })),
        retry: false,
        staleTime: Infinity,
    });

export const useSetPassword = (token: string) =>
    useMutation({
        mutationFn: (body: { password: string }) => answer(api.PUT('/api/password-resets/{token}', { params: { path: { token } }, body })),
    });

export const useInvitation = (token: string) =>
    useQuery({
        queryKey: ['invitation', token],
        queryFn: () => answer(api.GET('/api/invitations/{token}', { params: { path: { token } } })),
        retry: false,
        staleTime: Infinity,
    });

export function useAccept(token: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { name?: string; password?: string }) =>
            answer(api.POST('/api/invitations/{token}', { params: { path: { token } }, body })),
        onSuccess: (person) => client.setQueryData(['session'], person),
    });
}

export const useAccount = () => useQuery({ queryKey: ['account'], queryFn: () => answer(api.GET('/api/account')) });

export function useKeepName() {
    const client = useQueryClient();

    return useMutation({
        mutationFn: (body: { name: string }) => answer(api.PUT('/api/account', { body })),
        onSuccess: () => Promise.all(['account', 'session', 'people'].map((key) => client.invalidateQueries({ queryKey: [key] }))),
    });
}

export const useChangePassword = () =>
    useChange(['account'], (body: { current: string; password: string }) => answer(api.PUT('/api/account/password', { body })));

export const usePrepareCodes = () => useMutation({ mutationFn: () => answer(api.POST('/api/account/codes')) });

export const useSwitchCodesOn = () => useChange(['account'], (body: { code: string }) => answer(api.PUT('/api/account/codes', { body })));

export const useSwitchCodesOff = () => useChange(['account'], () => answer(api.DELETE('/api/account/codes')));

export const useRecoveryCodes = () => useChange(['account'], () => answer(api.POST('/api/account/recovery-codes')));

export const useSignIns = () => useQuery({ queryKey: ['sign-ins'], queryFn: () => answer(api.GET('/api/account/sessions')) });

/** Ends one, or with null all others. */
export const useEndSignIn = () =>
    useChange(['sign-ins'], (signIn: number | null) =>
        signIn === null
            ? answer(api.DELETE('/api/account/sessions'))
            : answer(api.DELETE('/api/account/sessions/{signIn}', { params: { path: { signIn } } })),
    );

export const useTokens = () => useQuery({ queryKey: ['tokens'], queryFn: () => answer(api.GET('/api/tokens')) });

export const useMakeToken = () =>
    useChange(['tokens'], (body: { name: string; site: string; right: Right; days: number }) => answer(api.POST('/api/tokens', { body })));

export const useRevokeToken = () =>
    useChange(['tokens'], (token: number) => answer(api.DELETE('/api/tokens/{token}', { params: { path: { token: `${token}` } } })));

export const useInvitations = (site: string, enabled: boolean) =>
    useQuery({
        queryKey: ['invitations', site],
        queryFn: () => answer(api.GET('/api/sites/{site}/invitations', { params: { path: { site } } })),
        enabled,
    });

export const useInvite = (site: string) =>
    useChange(['invitations', site], (body: { email: string; right: Right }) =>
        answer(api.POST('/api/sites/{site}/invitations', { params: { path: { site } }, body })),
    );

export const useRevokeInvitation = (site: string) =>
    useChange(['invitations', site], (invitation: number) =>
        answer(api.DELETE('/api/sites/{site}/invitations/{invitation}', { params: { path: { site, invitation } } })),
    );

export type MemberChange =
    | { do: 'right'; person: number; right: Right }
    | { do: 'close' | 'hand-over'; person: number; to: number | null }
    | { do: 'open'; person: number }
    | { do: 'leave'; to: number | null };

export function useChangeMember(site: string) {
    const client = useQueryClient();

    return useMutation({
        mutationFn: async (change: MemberChange): Promise<void> => {
            switch (change.do) {
                case 'right':
                    return void (await answer(
                        api.PUT('/api/sites/{site}/people/{person}', {
                            params: { path: { site, person: change.person } },
                            body: { right: change.right },
                        }),
                    ));
                case 'close':
                    return void (await answer(
                        api.DELETE('/api/sites/{site}/people/{person}', {
                            params: { path: { site, person: change.person } },
                            body: { hand_to: change.to },
                        }),
                    ));
                case 'hand-over':
                    return void (await answer(
                        api.POST('/api/sites/{site}/people/{person}/handed-over', {
                            params: { path: { site, person: change.person } },
                            body: { hand_to: change.to },
                        }),
                    ));
                case 'open':
                    return void (await answer(
                        api.POST('/api/sites/{site}/people/{person}/opened', { params: { path: { site, person: change.person } } }),
                    ));
                case 'leave':
                    return void (await answer(
                        api.DELETE('/api/sites/{site}/people/me', { params: { path: { site } }, body: { hand_to: change.to } }),
                    ));
            }
        },
        onSuccess: () =>
            Promise.all([['people', site], ['session'], ['experiments', site]].map((queryKey) => client.invalidateQueries({ queryKey }))),
    });
}

export const useSecurityLog = (site: string, refusals: boolean, enabled: boolean) =>
    useInfiniteQuery({
        queryKey: ['security-log', site, refusals],
        queryFn: ({ pageParam }) =>
            answer(
                api.GET('/api/sites/{site}/security-log', {
                    params: {
                        path: { site },
                        query: { ...(refusals ? { refusals: '1' as const } : {}), ...(pageParam ? { before: pageParam } : {}) },
                    },
                }),
            ),
        initialPageParam: 0,
        getNextPageParam: (page) => page.next,
        enabled,
    });
