import { useState, type FormEvent } from 'react';
import { encode } from 'uqr';
import { useAccount, usePrepareCodes, useRecoveryCodes, useSwitchCodesOff, useSwitchCodesOn, type Account } from '../api/account';
import { Problem } from '../api/client';
import { Button } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { Waiting } from '../parts/Waiting';
import { Copyable } from '../wiring/Copyable';

type Prepared = { secret: string; address: string };

/** One-time codes: switched on with an authenticator, and what helps where that is lost. */
export function CodesPart() {
    const [fresh, setFresh] = useState<string[] | null>(null);

    return (
        <Waiting query={useAccount()}>
            {(account) => (
                <div className="max-w-3xl space-y-5">
                    <p>
                        With one-time codes nobody gets in who knows your password alone. An authenticator (an application on your telephone
                        or in your password manager) shows a new code every 30 seconds.
                    </p>
                    {fresh && <Recovery codes={fresh} onDone={() => setFresh(null)} />}
                    {account.codes_since ? <On account={account} onFresh={setFresh} /> : <Off onFresh={setFresh} />}
                </div>
            )}
        </Waiting>
    );
}

function Recovery({ codes, onDone }: { codes: string[]; onDone: () => void }) {
    return (
        <section role="status" className="border border-ink bg-leaf p-4">
            <p className="font-semibold">
                Your recovery codes. Each lets you in once, where the authenticator is lost. They are shown this once: keep them where you
                keep what you must not lose.
            </p>
            <Copyable text={codes.join('\n')} name="recovery codes" />
            <Button className="mt-3" onClick={onDone}>
                I have kept them
            </Button>
        </section>
    );
}

function On({ account, onFresh }: { account: Account; onFresh: (codes: string[]) => void }) {
    const [asks, setAsks] = useState<'off' | 'recovery' | null>(null);
    const off = useSwitchCodesOff();
    const recovery = useRecoveryCodes();
    const left = account.recovery_codes_left ?? 0;

    return (
        <>
            <p>
                They are asked for since <Moment at={account.codes_since} />.{' '}
                <span className={left < 3 ? 'text-doubt-ink' : ''}>
                    {left === 1 ? 'One recovery code is left.' : `${left} recovery codes are left.`}
                </span>
            </p>
            <div className="flex gap-3">
                <Button onClick={() => setAsks('recovery')}>Make new recovery codes</Button>
                <Button look="danger" onClick={() => setAsks('off')}>
                    Switch codes off
                </Button>
            </div>
            <Question
                open={asks === 'recovery'}
                title="Make new recovery codes?"
                yes="Make them"
                busy={recovery.isPending}
                error={recovery.error?.message}
                onYes={() =>
                    recovery.mutate(undefined, {
                        onSuccess: ({ recovery_codes }) => {
                            onFresh(recovery_codes);
                            setAsks(null);
                        },
                    })
                }
                onNo={() => setAsks(null)}
            >
                <p>Those of before count no longer.</p>
            </Question>
            <Question
                open={asks === 'off'}
                title="Switch one-time codes off?"
                yes="Switch them off"
                danger
                busy={off.isPending}
                error={off.error?.message}
                onYes={() => off.mutate(undefined, { onSuccess: () => setAsks(null) })}
                onNo={() => setAsks(null)}
            >
                <p>From then on your password alone lets anybody in. The authenticator’s entry and the recovery codes are void.</p>
            </Question>
        </>
    );
}

function Off({ onFresh }: { onFresh: (codes: string[]) => void }) {
    const prepare = usePrepareCodes();
    const prepared = prepare.data;

    return prepared ? (
        <FirstCode prepared={prepared} onFresh={onFresh} onCancel={prepare.reset} />
    ) : (
        <>
            <p>They are off.</p>
            <FormProblem problem={prepare.error instanceof Problem ? prepare.error : null} />
            <Button look="main" disabled={prepare.isPending} onClick={() => prepare.mutate()}>
                Set them up
            </Button>
        </>
    );
}

function FirstCode({ prepared, onFresh, onCancel }: { prepared: Prepared; onFresh: (codes: string[]) => void; onCancel: () => void }) {
    const [code, setCode] = useState('');
    const on = useSwitchCodesOn();
    const problem = on.error instanceof Problem ? on.error : null;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        on.mutate({ code }, { onSuccess: ({ recovery_codes }) => onFresh(recovery_codes) });
    };

    return (
        <form onSubmit={submit} noValidate className="grid gap-6 border border-line bg-leaf p-4 sm:grid-cols-[auto_1fr]">
            <Picture text={prepared.address} />
            <div className="space-y-3">
                <p>
                    <strong>1.</strong> Let the authenticator read the picture, or type this secret into it:
                </p>
                <p className="font-mono text-sm break-all">{prepared.secret.replace(/(.{4})(?=.)/g, '$1 ')}</p>
                <TextField
                    label="2. The code that it shows now"
                    autoComplete="one-time-code"
                    inputMode="numeric"
                    className="max-w-40 font-mono"
                    autoFocus
                    value={code}
                    error={problem?.errors.code?.[0]}
                    onChange={(event) => setCode(event.target.value)}
                />
                <FormProblem problem={problem} />
                <div className="flex gap-3">
                    <Button type="submit" look="main" disabled={on.isPending}>
                        Switch codes on
                    </Button>
                    <Button onClick={onCancel}>Cancel</Button>
                </div>
            </div>
        </form>
    );
}

/** A QR code (ISO/IEC 18004), dark on light whatever is around it. */
function Picture({ text }: { text: string }) {
    const { data, size } = encode(text, { ecc: 'M', border: 4 });
    const path = data.flatMap((row, y) => row.flatMap((dark, x) => (dark ? [`M${x} ${y}h1v1h-1z`] : []))).join('');

    return (
        <svg
            viewBox={`0 0 ${size} ${size}`}
            width="220"
            height="220"
            role="img"
            aria-label="QR code for the authenticator"
            shapeRendering="crispEdges"
        >
            <rect width={size} height={size} fill="#fff" />
            <path d={path} fill="#000" />
        </svg>
    );
}
