import { useState, type FormEvent } from 'react';
import { useInvitations, useInvite, useRevokeInvitation, type Invitation, type Right } from '../api/account';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { Field, TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { Moment } from '../parts/Moment';
import { Table, type Column } from '../parts/Table';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { Copyable } from '../wiring/Copyable';
import { RIGHTS, rightOptions, rightWords } from './rights';

/** Who was asked to look after the site, and the way to ask somebody else. */
export function Invitations() {
    const site = useSiteKey();
    const open = useInvitations(site, true);
    const invite = useInvite(site);
    const revoke = useRevokeInvitation(site);
    const [made, setMade] = useState<{ email: string; address: string } | null>(null);
    const form = useDraft<{ email: string; right: Right }>({ email: '', right: 'look' }, invite);
    const { draft, errors, set } = form;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        invite.mutate(draft, {
            onSuccess: ({ email, address }) => {
                form.kept({ email: '', right: 'look' });
                setMade({ email, address });
            },
        });
    };
    const columns: Column<Invitation>[] = [
        { key: 'email', head: 'E-mail', cell: (one) => <span className="font-semibold">{one.email}</span>, sort: (one) => one.email },
        { key: 'right', head: 'May then', cell: (one) => RIGHTS.find(({ right }) => right === one.right)?.name },
        { key: 'author', head: 'Asked by', cell: (one) => <span className="whitespace-nowrap">{one.author}</span> },
        { key: 'until', head: 'Good until', cell: (one) => <Moment at={one.expires_at} /> },
        {
            key: 'revoke',
            head: '',
            wide: true,
            cell: (one) => (
                <Button disabled={revoke.isPending} onClick={() => revoke.mutate(one.id)}>
                    Revoke
                </Button>
            ),
        },
    ];

    return (
        <section aria-labelledby="invitations" className="space-y-3">
            <h2 id="invitations" className="text-lg font-semibold">
                Invite somebody
            </h2>
            <form onSubmit={submit} noValidate className="space-y-3 border border-line bg-leaf p-3">
                <div className="grid gap-3 md:grid-cols-[2fr_1fr_2fr]">
                    <TextField
                        label="E-mail address"
                        type="email"
                        value={draft.email}
                        error={errors.email}
                        note="A link goes to it, good for seven days"
                        onChange={(event) => set({ email: event.target.value })}
                    />
                    <Field label="May then" error={errors.right}>
                        <Choice label="May then" value={draft.right} options={rightOptions} onChange={(right) => set({ right })} />
                    </Field>
                    <p className="self-center text-soft">{rightWords(draft.right)}</p>
                </div>
                <FormFoot form={form} submit="Invite" inFlow onLeaf />
            </form>
            {made && (
                <section role="status" className="border border-ink bg-leaf p-3">
                    <p className="font-semibold">
                        The invitation of {made.email} is on its way. If no mail reaches them, give them this link yourself; it is shown
                        this once.
                    </p>
                    <Copyable text={made.address} name="link" />
                </section>
            )}
            {revoke.error && (
                <p role="alert" className="text-broken">
                    {revoke.error.message}
                </p>
            )}
            <Waiting query={open}>
                {(all) =>
                    all.length === 0 ? <></> : <Table label="Invitations" columns={columns} rows={all} rowKey={(one) => `${one.id}`} />
                }
            </Waiting>
        </section>
    );
}
