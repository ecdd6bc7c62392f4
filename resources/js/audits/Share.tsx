import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState, type FormEvent } from 'react';
import { useAuditShares, useRevokeShare, useShareAudit } from '../api/audits';
import { Problem } from '../api/client';
import { useRight } from '../api/queries';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { Moment } from '../parts/Moment';
import { Waiting } from '../parts/Waiting';

const DAYS = ['7', '30', '90'];

/** Links to the report for somebody without an account: made, copied and revoked. */
export function Share({ site, audit }: { site: string; audit: number }) {
    const [open, setOpen] = useState(false);
    const shares = useAuditShares(site, audit, open);
    const mayWork = useRight(site) !== 'look';

    return (
        <>
            <button type="button" className="text-accent underline underline-offset-4" onClick={() => setOpen(true)}>
                Share…
            </button>
            <Dialog open={open} onClose={() => setOpen(false)} className="relative z-30">
                <DialogBackdrop className="fixed inset-0 bg-ink/40" />
                <div className="fixed inset-0 grid place-items-center overflow-y-auto p-4">
                    <DialogPanel className="w-full max-w-2xl space-y-4 border border-ink bg-leaf p-5">
                        <DialogTitle className="text-lg font-semibold">Share the report</DialogTitle>
                        <p>Whoever has the link reads this report, and nothing else, without an account, until it ends.</p>
                        {mayWork && <Make site={site} audit={audit} />}
                        <Waiting query={shares}>
                            {(all) =>
                                all.length === 0 ? (
                                    <p className="text-soft">No link has been made.</p>
                                ) : (
                                    <ul className="border-y border-line">
                                        {all.map((one) => (
                                            <li key={one.share} className="border-b border-line py-2 last:border-b-0">
                                                <One site={site} audit={audit} share={one} mayWork={mayWork} />
                                            </li>
                                        ))}
                                    </ul>
                                )
                            }
                        </Waiting>
                        <div className="text-right">
                            <Button onClick={() => setOpen(false)}>Close</Button>
                        </div>
                    </DialogPanel>
                </div>
            </Dialog>
        </>
    );
}

function Make({ site, audit }: { site: string; audit: number }) {
    const [recipient, setRecipient] = useState('');
    const [days, setDays] = useState('30');
    const make = useShareAudit(site, audit);
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        make.mutate({ recipient, days: Number(days) }, { onSuccess: () => setRecipient('') });
    };
    const errors = make.error instanceof Problem ? make.error.errors : {};

    return (
        <form onSubmit={submit} noValidate className="grid items-end gap-3 sm:grid-cols-[1fr_14rem_auto]">
            <TextField label="For whom" value={recipient} onChange={(event) => setRecipient(event.target.value)} />
            <Choice
                label="How long the link works"
                value={days}
                options={DAYS.map((value) => ({ value, label: `Works for ${value} days` }))}
                onChange={setDays}
            />
            <Button type="submit" look="main" disabled={make.isPending}>
                Make a link
            </Button>
            {make.error && (
                <p role="alert" className="text-sm text-broken sm:col-span-3">
                    {errors.recipient?.[0] ?? make.error.message}
                </p>
            )}
        </form>
    );
}

type ShareOf = NonNullable<ReturnType<typeof useAuditShares>['data']>[number];

function One({ site, audit, share, mayWork }: { site: string; audit: number; share: ShareOf; mayWork: boolean }) {
    const revoke = useRevokeShare(site, audit);
    const [copied, setCopied] = useState(false);

    return (
        <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
            <span className="font-semibold">{share.recipient}</span>
            <span className="flex-1 text-sm text-soft">
                by {share.author}, <Moment at={share.created} />;{' '}
                {share.revoked ? (
                    <>
                        revoked <Moment at={share.revoked} />
                    </>
                ) : (
                    <>
                        {share.address ? 'ends' : 'ended'} <Moment at={share.expires} />
                    </>
                )}
                ; {share.read ? 'read last ' : 'not read yet'}
                {share.read && <Moment at={share.read} />}
            </span>
            {share.address && (
                <>
                    <Button
                        onClick={() =>
                            void navigator.clipboard?.writeText(share.address ?? '').then(
                                () => setCopied(true),
                                () => setCopied(false),
                            )
                        }
                    >
                        {copied ? 'Copied' : 'Copy'}
                    </Button>
                    {mayWork && (
                        <Button look="danger" disabled={revoke.isPending} onClick={() => revoke.mutate(share.share)}>
                            Revoke
                        </Button>
                    )}
                    <a
                        href={share.address}
                        target="_blank"
                        rel="noreferrer"
                        className="basis-full font-mono text-xs break-all text-accent underline"
                    >
                        {share.address}
                    </a>
                </>
            )}
        </div>
    );
}
