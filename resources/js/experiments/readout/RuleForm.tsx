import { useState } from 'react';
import { Problem, type Experiment, type Site } from '../../api/client';
import { useKeepRule, type DecisionRule } from '../../api/readout';
import { Button } from '../../parts/Button';
import { Choice } from '../../parts/Choice';
import { fieldErrors } from '../../parts/fieldErrors';
import { Field, TextField } from '../../parts/Field';
import { FormProblem } from '../../parts/FormProblem';
import { ReadoutRow } from './ReadoutRow';
import { DECIDED_BY, ruleInWords, typed } from './rule';

type By = NonNullable<DecisionRule['by']>;

interface Props {
    site: Site;
    experiment: Experiment;
    rule: DecisionRule | null;
    mayWork: boolean;
}

/** How an experiment that has not started is to be decided: on the left leaf it is written, on the right stands what follows. */
export function RuleForm({ site, experiment, rule, mayWork }: Props) {
    const keep = useKeepRule(site.key, experiment.key);
    const [by, setBy] = useState<By>(rule?.by ?? 'person');
    const [acts, setActs] = useState<'proposes' | 'acts'>(rule?.acts ? 'acts' : 'proposes');
    const [worthwhile, setWorthwhile] = useState(textOf(rule?.worthwhile));
    const [margins, setMargins] = useState<Record<string, string>>(
        Object.fromEntries(Object.entries(rule?.margins ?? {}).map(([key, one]) => [key, String(one)])),
    );
    const [earlier, setEarlier] = useState(textOf(rule?.earlier_days));
    const guardrails = experiment.goals.filter(({ role }) => role === 'guardrail');
    const errors = fieldErrors(keep.error);
    const made: DecisionRule = {
        ...(rule ?? {}),
        by,
        ...(by !== 'person' && acts === 'acts' ? { acts: true } : { acts: undefined }),
        worthwhile: typed(worthwhile) ?? undefined,
        margins: orNothing(
            Object.fromEntries(Object.entries(margins).flatMap(([key, text]) => (typed(text) ? [[key, typed(text) as number]] : []))),
        ),
        earlier_days: typed(earlier) ?? undefined,
    };
    const wrong = [worthwhile, earlier, ...Object.values(margins)].some((text) => typed(text) === undefined);

    return (
        <form
            onSubmit={(event) => {
                event.preventDefault();
                keep.mutate(made);
            }}
        >
            <ReadoutRow
                head
                declared={<h2 className="font-semibold">Declared</h2>}
                spine=""
                observed={<h2 className="font-semibold">What follows</h2>}
            />
            <ReadoutRow
                declared={
                    <fieldset disabled={!mayWork} className="space-y-3">
                        <Field label="Decided by" error={errors.by}>
                            <Choice
                                label="Decided by"
                                value={by}
                                options={(['person', 'primary', 'guarded'] as const).map((value) => ({ value, label: DECIDED_BY[value] }))}
                                onChange={setBy}
                            />
                        </Field>
                        {by !== 'person' && (
                            <Field label="At the planned end" error={errors.acts}>
                                <Choice
                                    label="At the planned end"
                                    value={acts}
                                    options={[
                                        { value: 'proposes', label: 'Pellix proposes, and a person confirms' },
                                        { value: 'acts', label: 'Pellix acts' },
                                    ]}
                                    onChange={setActs}
                                />
                            </Field>
                        )}
                        <TextField
                            label="Smallest difference worth having"
                            note="In the primary goal. Of a rate 0.02 is two points; of a value it is money per visitor."
                            value={worthwhile}
                            error={errors.worthwhile ?? (typed(worthwhile) === undefined ? 'A number above 0 is needed.' : undefined)}
                            onChange={(event) => setWorthwhile(event.target.value)}
                        />
                        {guardrails.map((goal) => (
                            <TextField
                                key={goal.key}
                                label={`“${goal.name}” may get worse by`}
                                value={margins[goal.key] ?? ''}
                                error={
                                    errors[`margins.${goal.key}`] ??
                                    (typed(margins[goal.key] ?? '') === undefined ? 'A number above 0 is needed.' : undefined)
                                }
                                onChange={(event) => setMargins({ ...margins, [goal.key]: event.target.value })}
                            />
                        ))}
                        <TextField
                            label="Take off what visitors did in the days before"
                            note="So many days before their first exposure, for a narrower interval; empty for none."
                            value={earlier}
                            error={errors.earlier_days ?? (typed(earlier) === undefined ? 'A whole number of days is needed.' : undefined)}
                            onChange={(event) => setEarlier(event.target.value)}
                        />
                        {mayWork && (
                            <Button type="submit" look="main" disabled={keep.isPending || wrong}>
                                Keep the rule
                            </Button>
                        )}
                        {keep.isSuccess && (
                            <span role="status" className="ml-3 text-sm text-soft">
                                Kept.
                            </span>
                        )}
                        <FormProblem problem={keep.error instanceof Problem ? keep.error : null} />
                    </fieldset>
                }
                spine=""
                observed={
                    <>
                        <p>{ruleInWords(made)}</p>
                        <p className="mt-2 text-soft">
                            It is said before the experiment starts, and stays: whoever has seen figures chooses the rule that suits them.
                            Until the planned end the readout shows intervals that hold however often one looks; at the end those of the
                            plan.
                        </p>
                        {by === 'guarded' && guardrails.length === 0 && (
                            <p className="mt-2 border-l-3 border-doubt pl-2">
                                The experiment has no guardrail: give one of its goals that role, at the link Goals.
                            </p>
                        )}
                        {experiment.planned_days === null && by !== 'person' && (
                            <p className="mt-2 border-l-3 border-doubt pl-2">
                                Nobody has planned when it ends: without a planned end nothing is proposed. Make a plan.
                            </p>
                        )}
                    </>
                }
            />
        </form>
    );
}

const textOf = (number: number | undefined): string => (number === undefined ? '' : String(number));

const orNothing = (margins: Record<string, number>): Record<string, number> | undefined =>
    Object.keys(margins).length > 0 ? margins : undefined;
