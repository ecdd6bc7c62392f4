import { useState, type FormEvent } from 'react';
import { useMakeToken, useRevokeToken, useTokens, type Right, type Token } from '../api/account';
import { useSession } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { Field, TextField } from '../parts/Field';
import { FormFoot } from '../parts/FormFoot';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { Table, type Column } from '../parts/Table';
import { useDraft } from '../parts/useDraft';
import { Waiting } from '../parts/Waiting';
import { includes, rightOptions, rightWords } from '../people/rights';
import { Copyable } from '../wiring/Copyable';

const DAYS = ['7', '30', '90', '180', '365'] as const;

/** Keys for programs: each for one site, one right, and until a day. */
export function TokensPart() {
    const tokens = useTokens();
    const revoke = useRevokeToken();
    const [isMaking, setMaking] = useState(false);
    const [secret, setSecret] = useState<{ name: string; secret: string } | null>(null);
    const [asks, setAsks] = useState<Token | null>(null);
    const columns: Column<Token>[] = [
        { key: 'name', head: 'Name', cell: (one) => <span className="font-semibold">{one.name}</span>, sort: (one) => one.name },
        {
            key: 'site',
            head: 'Site',
            cell: (one) => one.site_name ?? <span className="text-doubt-ink">every site (made before tokens had one)</span>,
        },
        { key: 'right', head: 'May', cell: (one) => one.right ?? <span className="text-doubt-ink">all that you may</span> },
        {
            key: 'until',
            head: 'Until',
            cell: (one) =>
                one.expires_at && new Date(one.expires_at) < new Date() ? (
                    <span className="text-soft">ended</span>
                ) : (
                    <Moment at={one.expires_at} />
                ),
        },
        { key: 'used', head: 'Last used', cell: (one) => <Moment at={one.last_used_at} /> },
        {
            key: 'revoke',
            head: '',
            wide: true,
            cell: (one) => (
                <Button look="danger" aria-label={`Revoke “${one.name}”`} onClick={() => setAsks(one)}>
                    Revoke
                </Button>
            ),
        },
    ];

    return (
        <div className="space-y-4">
            <div className="flex flex-wrap items-start gap-4">
                <p className="max-w-3xl flex-1 basis-80 text-soft">
                    With a token a program does what you may, on one site, up to one right, until a day. It makes no other tokens, and
                    changes no people and no accounts.
                </p>
                {!isMaking && (
                    <Button look="main" onClick={() => setMaking(true)}>
                        Make a token
                    </Button>
                )}
            </div>
            {secret && (
                <section role="status" className="border border-ink bg-leaf p-3">
                    <p className="font-semibold">The token “{secret.name}”. It is shown this once: copy it to where it is used now.</p>
                    <Copyable text={secret.secret} name="token" />
                </section>
            )}
            {isMaking && (
                <MakeToken
                    onMade={(made) => {
                        setSecret(made);
                        setMaking(false);
                    }}
                    onCancel={() => setMaking(false)}
                />
            )}
            <Waiting query={tokens}>
                {(all) =>
                    all.length === 0 ? (
                        !isMaking && <p>You have no tokens.</p>
                    ) : (
                        <Table label="Tokens" columns={columns} rows={all} rowKey={(one) => `${one.id}`} />
                    )
                }
            </Waiting>
            <Question
                open={asks !== null}
                title={`Revoke “${asks?.name ?? ''}”?`}
                yes="Revoke it"
                danger
                busy={revoke.isPending}
                error={revoke.error?.message}
                onYes={() => asks && revoke.mutate(asks.id, { onSuccess: () => setAsks(null) })}
                onNo={() => setAsks(null)}
            >
                <p>Whatever uses it is refused from the next request on.</p>
            </Question>
        </div>
    );
}

function MakeToken({ onMade, onCancel }: { onMade: (made: { name: string; secret: string }) => void; onCancel: () => void }) {
    const here = useSiteKey();
    const sites = useSession().data?.sites ?? [];
    const save = useMakeToken();
    const form = useDraft<{ name: string; site: string; right: Right; days: number }>(
        { name: '', site: here, right: 'look', days: 90 },
        save,
    );
    const { draft, errors, set } = form;
    const mine = sites.find(({ key }) => key === draft.site)?.right ?? 'look';
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        save.mutate(draft, {
            onSuccess: (made) => {
                form.kept();
                onMade(made);
            },
        });
    };

    return (
        <form onSubmit={submit} noValidate className="space-y-3 border border-line bg-leaf p-3">
            <div className="grid gap-3 md:grid-cols-4">
                <TextField
                    label="Name"
                    placeholder="What uses it"
                    autoFocus
                    value={draft.name}
                    error={errors.name}
                    onChange={(event) => set({ name: event.target.value })}
                />
                <Field label="Site" error={errors.site}>
                    <Choice
                        label="Site"
                        value={draft.site}
                        options={sites.map(({ key, name }) => ({ value: key, label: name }))}
                        onChange={(site) => set({ site, right: 'look' })}
                    />
                </Field>
                <Field label="May" error={errors.right} note={rightWords(draft.right)}>
                    <Choice
                        label="May"
                        value={draft.right}
                        options={rightOptions.filter(({ value }) => includes(mine, value))}
                        onChange={(right) => set({ right })}
                    />
                </Field>
                <Field label="For" error={errors.days}>
                    <Choice
                        label="For"
                        value={`${draft.days}`}
                        options={DAYS.map((days) => ({ value: days as string, label: `${days} days` }))}
                        onChange={(days) => set({ days: Number(days) })}
                    />
                </Field>
            </div>
            <FormFoot form={form} submit="Make it" onCancel={onCancel} inFlow onLeaf />
        </form>
    );
}
