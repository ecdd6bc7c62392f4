import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Experiment, Schemas } from '../api/client';
import { useDuplicate, useMoveExperiment } from '../api/life';
import { useDeleteExperiment, useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { LookOnly } from '../app/LookOnly';
import { Button } from '../parts/Button';
import { Question } from '../parts/Question';
import { EndQuestion } from './life/EndQuestion';
import { StartQuestion } from './life/StartQuestion';
import { TimesQuestion } from './life/TimesQuestion';

type Asked = Exclude<Schemas['Action'], 'schedule'> | 'times';

const LABELS: Record<Asked, string> = {
    start: 'Start',
    unschedule: 'Take back',
    pause: 'Pause',
    resume: 'Resume',
    end: 'End',
    archive: 'Archive',
    times: 'Times…',
};

const ITEM = 'block w-full px-3 py-1 text-left data-focus:bg-accent data-focus:text-white';

/** What can be done with an experiment now. Everything that visitors notice is asked about first. */
export function Actions({ experiment, isReady }: { experiment: Experiment; isReady: boolean }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const move = useMoveExperiment(site, experiment.key);
    const remove = useDeleteExperiment(site, experiment.key);
    const copy = useDuplicate(site, experiment.key);
    const [asked, setAsked] = useState<Asked | null>(null);
    const close = (): void => {
        setAsked(null);
        move.reset();
    };
    const simple = asked === 'pause' || asked === 'resume' || asked === 'archive' || asked === 'unschedule' ? asked : null;
    const hasTimes = ['scheduled', 'running', 'paused'].includes(experiment.state);
    const mayWork = useRight(site) !== 'look';
    const possible = (mayWork ? experiment.actions : []).filter(
        (action): action is Exclude<Schemas['Action'], 'schedule'> => action !== 'schedule',
    );

    return (
        <div className="flex flex-wrap items-center gap-2">
            <Menu>
                <MenuButton className="px-2 text-accent underline underline-offset-4">More</MenuButton>
                <MenuItems anchor="bottom end" className="z-20 mt-1 min-w-48 border border-ink bg-leaf py-1 focus:outline-none">
                    <MenuItem>
                        <a href={address.experimentFile(site, experiment.key)} className={ITEM} download>
                            Experiment file
                        </a>
                    </MenuItem>
                    {mayWork && (
                        <MenuItem>
                            <button
                                type="button"
                                className={ITEM}
                                onClick={() => copy.mutate(null, { onSuccess: (made) => navigate(address.experiment(site, made.key)) })}
                            >
                                Duplicate
                            </button>
                        </MenuItem>
                    )}
                </MenuItems>
            </Menu>
            {mayWork && experiment.state === 'draft' && (
                <Button
                    look="danger"
                    disabled={remove.isPending}
                    onClick={() =>
                        remove.mutate(undefined, {
                            onSuccess: () =>
                                navigate(address.bench(site), { state: { deleted: { key: experiment.key, name: experiment.name } } }),
                        })
                    }
                >
                    Delete
                </Button>
            )}
            {mayWork && hasTimes && <Button onClick={() => setAsked('times')}>{LABELS.times}</Button>}
            {!mayWork && (
                <div className="max-w-80 text-sm">
                    <LookOnly />
                </div>
            )}
            {possible.map((action) => (
                <Button
                    key={action}
                    look={action === 'start' || action === 'resume' ? 'main' : 'plain'}
                    disabled={!isReady}
                    title={isReady ? undefined : 'What is missing is marked on the chain.'}
                    onClick={() => setAsked(action)}
                >
                    {action === 'start' && experiment.state === 'scheduled' ? 'Start now' : LABELS[action]}
                </Button>
            ))}
            {(copy.error ?? remove.error) && (
                <p role="alert" className="w-full text-broken">
                    {(copy.error ?? remove.error)?.message}
                </p>
            )}
            {asked === 'start' && <StartQuestion experiment={experiment} open onClose={close} />}
            {asked === 'end' && <EndQuestion experiment={experiment} open onClose={close} />}
            {asked === 'times' && <TimesQuestion experiment={experiment} open onClose={close} />}
            <Question
                open={simple !== null}
                title={simple ? `${LABELS[simple]} “${experiment.name}”?` : ''}
                yes={simple ? LABELS[simple] : ''}
                busy={move.isPending}
                error={move.error?.message}
                onYes={() => simple && move.mutate({ action: simple }, { onSuccess: close })}
                onNo={close}
            >
                {simple && <p>{CONSEQUENCES[simple]}</p>}
            </Question>
        </div>
    );
}

const CONSEQUENCES: Record<'pause' | 'resume' | 'archive' | 'unschedule', string> = {
    pause: 'Visitors see the page as it is, and nothing is counted, until you resume. Whoever had a variant gets it back then.',
    resume: 'Visitors meet their variants again from their next page view on.',
    archive: 'It stays readable, at the end of the Bench.',
    unschedule: 'It does not start at its time any more, and can be changed again.',
};
