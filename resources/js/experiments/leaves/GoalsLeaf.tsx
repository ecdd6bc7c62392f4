import { useState } from 'react';
import { Problem, type Schemas } from '../../api/client';
import { useGoals, useSaveGoal } from '../../api/measures';
import { Button, ButtonLink } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { TextField } from '../../parts/Field';
import { fieldErrors } from '../../parts/fieldErrors';
import { plural } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import type { PathOp } from '../../parts/rules';
import { address } from '../../app/address';
import { countInWords, goalInWords } from '../../measures/goalWords';
import type { DraftGoal } from '../draft';
import { AdviceList, adviceOn } from '../known/AdviceList';
import { Row } from '../links/Row';
import { PathField } from '../PathField';
import type { LeafSides } from './Editor';

const ROLES = (['primary', 'secondary', 'guardrail'] as const).map((value) => ({ value, label: value }));

/** Goals: what counts, in which role; beside each, whether it has counted lately. */
export function GoalsLeaf({ site, editor: { draft, set, errors }, advice }: LeafSides) {
    const known = useGoals(site.key).data ?? [];
    const left = known.filter(({ goal }) => !draft.goals.some(({ key }) => key === goal.key));
    const put = (goals: DraftGoal[]): void => set({ goals });
    const add = (key: string): void => put([...draft.goals, { key, role: draft.goals.length === 0 ? 'primary' : 'secondary' }]);

    return (
        <>
            {draft.goals.map((goal, i) => {
                const kept = known.find((one) => one.goal.key === goal.key);

                return (
                    <Row
                        key={goal.key}
                        declared={
                            <div className="py-1">
                                <div className="flex flex-wrap items-center gap-2">
                                    <span className="flex-1 font-semibold">{kept?.goal.name ?? goal.key}</span>
                                    <div className="w-36">
                                        <Choice
                                            label={`Role of ${kept?.goal.name ?? goal.key}`}
                                            value={goal.role}
                                            options={ROLES}
                                            onChange={(role) => put(draft.goals.map((one, j) => (j === i ? { ...one, role } : one)))}
                                        />
                                    </div>
                                    <Button
                                        aria-label={`Remove goal ${kept?.goal.name ?? goal.key}`}
                                        onClick={() => put(draft.goals.filter((_, j) => j !== i))}
                                    >
                                        Remove
                                    </Button>
                                </div>
                                {kept && (
                                    <p className="text-sm">
                                        {goalInWords(kept.goal)}, {countInWords(kept.goal)}
                                    </p>
                                )}
                                {errors[`goals.${i}.key`] && <p className="text-sm text-broken">{errors[`goals.${i}.key`]}</p>}
                            </div>
                        }
                        observed={<Lately goal={kept} />}
                    />
                );
            })}
            <Row
                last
                declared={
                    <div className="space-y-3 py-1">
                        {left.length > 0 && (
                            <div className="w-80">
                                <Choice
                                    label="Add a goal of the site"
                                    value=""
                                    options={[
                                        { value: '', label: 'Add a goal of the site…' },
                                        ...left.map(({ goal }) => ({ value: goal.key, label: goal.name })),
                                    ]}
                                    onChange={(key) => key && add(key)}
                                />
                            </div>
                        )}
                        <NewGoal site={site.key} hosts={site.hosts} onMade={add} />
                    </div>
                }
                observed={
                    <div className="py-1 text-sm text-soft">
                        <p>What happens at or after a visitor’s first exposure counts. The primary goal decides.</p>
                        <AdviceList advice={adviceOn(advice.result?.advice ?? [], 'goals')} />
                        <ButtonLink to={address.goals(site.key, 'new')} className="mt-1">
                            A goal of another kind
                        </ButtonLink>
                    </div>
                }
            />
        </>
    );
}

function Lately({ goal }: { goal?: Schemas['KeptGoal'] }) {
    if (!goal) {
        return <p className="py-1">This site has no such goal.</p>;
    }

    return goal.recent.hits > 0 ? (
        <p className="py-1">
            It has counted: {plural(goal.recent.hits, 'hit')} of {plural(goal.recent.visitors, 'visitor')} in the last seven days, last{' '}
            <Moment at={goal.recent.last} />
        </p>
    ) : (
        <p className="border-l-3 border-doubt py-1 pl-2">It has not counted once in the last seven days. Nothing proves yet that it can.</p>
    );
}

/** A page that is reached, made where it is needed. */
function NewGoal({ site, hosts, onMade }: { site: string; hosts: string[]; onMade: (key: string) => void }) {
    const [goal, setGoal] = useState<{ name: string; op: PathOp; path: string } | null>(null);
    const save = useSaveGoal(site);
    const errors = fieldErrors(save.error);
    if (!goal) {
        return <Button onClick={() => setGoal({ name: '', op: 'is', path: '' })}>Make a goal: a page is reached</Button>;
    }
    const make = (): void =>
        save.mutate(
            {
                name: goal.name.trim(),
                kind: 'page',
                pages: { fact: 'url.path', op: goal.op, value: goal.path.trim() },
            } as Schemas['GoalDraft'],
            {
                onSuccess: (kept) => {
                    setGoal(null);
                    onMade((kept as Schemas['KeptGoal']).goal.key);
                },
            },
        );

    return (
        <div role="group" aria-label="New goal" className="space-y-2 border-l-3 border-line pl-3">
            <TextField
                label="Goal name"
                value={goal.name}
                error={errors.name ?? errors.key}
                maxLength={120}
                autoFocus
                onChange={(event) => setGoal({ ...goal, name: event.target.value })}
            />
            <PathField
                label="Goal path"
                hosts={hosts}
                op={goal.op}
                path={goal.path}
                error={errors['pages.value'] ?? errors.pages}
                onChange={(op, path) => setGoal({ ...goal, op, path })}
            />
            <div className="flex gap-2">
                <Button look="main" onClick={make} disabled={save.isPending}>
                    Make the goal
                </Button>
                <Button onClick={() => setGoal(null)}>Cancel</Button>
            </div>
            {save.error instanceof Problem && Object.keys(errors).length === 0 && (
                <p role="alert" className="text-sm text-broken">
                    {save.error.message}
                </p>
            )}
        </div>
    );
}
