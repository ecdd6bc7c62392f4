import { useState, type FormEvent } from 'react';
import { Link } from 'react-router';
import { Problem, type Schemas } from '../api/client';
import { useSite } from '../api/queries';
import { useFirstSteps, useProvePage } from '../api/sites';
import { address, useSiteKey } from '../app/address';
import { Button, ButtonLink } from '../parts/Button';
import { TextField } from '../parts/Field';
import { FormProblem } from '../parts/FormProblem';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { Copyable } from '../wiring/Copyable';

type Step = { step: string; label: string; state: Schemas['LinkState']; words: string; at?: string | null };

/** How far a new site has come: along the chain, each step done when its evidence is there. */
export function FirstSteps() {
    const site = useSiteKey();
    const steps = useFirstSteps(site);
    useTitle('First steps');

    return (
        <div className="mx-auto max-w-4xl px-5 py-4">
            <h1 className="mb-1 text-xl font-semibold">First steps</h1>
            <p className="mb-4 max-w-3xl text-soft">
                From the page to the first experiment. A step is done when its evidence is there; leave whenever you like, and come back by
                the menu with your name.
            </p>
            <Waiting query={steps}>{(all) => <StepList steps={all} />}</Waiting>
        </div>
    );
}

export function StepList({ steps }: { steps: Step[] }) {
    const next = steps.find(({ state }) => state !== 'holds')?.step;
    // Once the snippet runs, the others can be done in any order.
    const runs = steps.find(({ step }) => step === 'running')?.state === 'holds';

    return (
        <ol className="border-t border-line">
            {steps.map((one, i) => (
                <li
                    key={one.step}
                    className="grid grid-cols-[1.5rem_1fr] gap-x-3 border-b border-line bg-leaf px-3 py-3"
                    data-step={one.step}
                >
                    <span className="pt-1">
                        <StateMark state={one.state} />
                    </span>
                    <div>
                        <h2 className="font-semibold">
                            {i + 1}. {one.label}
                        </h2>
                        <p className={one.state === 'broken' ? 'text-broken' : 'text-soft'}>
                            {one.words}{' '}
                            {one.at && (
                                <>
                                    (<Moment at={one.at} />)
                                </>
                            )}
                        </p>
                        {one.state !== 'holds' && (one.step === next || runs) && <ToDo step={one.step} />}
                    </div>
                </li>
            ))}
        </ol>
    );
}

/** What brings the evidence of a step. */
function ToDo({ step }: { step: string }) {
    const site = useSiteKey();

    switch (step) {
        case 'snippet':
            return <Prove />;
        case 'running':
            return (
                <p className="mt-2">
                    Open the page in a browser, as a visitor would. If nothing arrives within a few seconds,{' '}
                    <Link to={address.feed(site)} className="text-accent underline underline-offset-4">
                        the live feed
                    </Link>{' '}
                    shows what was refused and why.
                </p>
            );
        case 'event':
            return (
                <p className="mt-2">
                    Click a link or a button on the page. What else your pages send,{' '}
                    <Link to={address.capture(site)} className="text-accent underline underline-offset-4">
                        you choose under Capture
                    </Link>
                    .
                </p>
            );
        case 'goal':
            return (
                <p className="mt-2">
                    <ButtonLink look="main" to={address.goals(site, 'new')}>
                        Define a goal
                    </ButtonLink>
                </p>
            );
        case 'experiment':
            return (
                <p className="mt-2">
                    <ButtonLink look="main" to={address.newExperiment(site)}>
                        Make an experiment
                    </ButtonLink>{' '}
                    <span className="ml-2 text-soft">It is a draft until somebody starts it.</span>
                </p>
            );
        default:
            return (
                <p className="mt-2">
                    <ButtonLink look="main" to={address.people(site)}>
                        Invite somebody
                    </ButtonLink>
                </p>
            );
    }
}

/** The snippet to paste, and the page that is looked at then. */
function Prove() {
    const site = useSiteKey();
    const known = useSite(site).data;
    const prove = useProvePage(site);
    const [typed, setTyped] = useState<string | null>(null);
    const url = typed ?? (known ? `https://${known.hosts[0]}/` : '');
    const problem = prove.error instanceof Problem ? prove.error : null;
    const findings = prove.data?.inspections[0]?.findings.filter(({ severity }) => severity !== 'note') ?? [];
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        prove.mutate(url);
    };

    return (
        <div className="mt-2 space-y-3">
            <p>Paste this as the first thing into the head of one page:</p>
            {known && <Copyable text={known.snippet} name="snippet" />}
            <form onSubmit={submit} noValidate className="flex flex-wrap items-end gap-3">
                <div className="min-w-0 flex-1 basis-80">
                    <TextField
                        label="Then: the address of that page"
                        className="font-mono"
                        value={url}
                        error={problem?.errors.url?.[0]}
                        onChange={(event) => setTyped(event.target.value)}
                    />
                </div>
                <Button type="submit" look="main" disabled={prove.isPending}>
                    {prove.isPending ? 'Looking…' : 'Look at it'}
                </Button>
            </form>
            <FormProblem problem={problem} />
            {findings.length > 0 && (
                <ul role="status" className="space-y-2">
                    {findings.map((one, i) => (
                        <li key={i} className="border-l-3 border-broken pl-3">
                            <p className="font-semibold">{one.message}</p>
                            <p>{one.fix}</p>
                        </li>
                    ))}
                </ul>
            )}
            <p className="text-sm text-soft">
                Through a tag manager, as a pixel, or with a guard against flicker:{' '}
                <Link to={address.wiring(site)} className="text-accent underline underline-offset-4">
                    the other ways
                </Link>
                .
            </p>
        </div>
    );
}
