import { useGoals } from '../api/measures';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { countInWords, goalInWords } from '../measures/goalWords';
import type { DraftGoal } from './draft';
import { PathField } from './PathField';

interface Props {
    number: number;
    goal: DraftGoal;
    hosts: string[];
    errors: Record<string, string>;
    onChange: (goal: DraftGoal) => void;
    onRemove?: () => void;
}

const NEW = '';

/** One goal of an experiment: one of the site's, or a new one that is a page reached. */
export function GoalFields({ number, goal, hosts, errors, onChange, onRemove }: Props) {
    const known = useGoals(useSiteKey()).data ?? [];
    const chosen = known.find((one) => one.goal.key === goal.key)?.goal;

    return (
        <div className="space-y-2 border-l-3 border-line pl-3">
            <div className="flex flex-wrap gap-2">
                <div className="min-w-64 flex-1">
                    <Choice
                        label={`Goal ${number + 1}`}
                        value={goal.key ?? NEW}
                        options={[
                            { value: NEW, label: 'A new goal: a page is reached' },
                            ...known.map((one) => ({ value: one.goal.key, label: one.goal.name })),
                        ]}
                        onChange={(key) => onChange({ ...goal, key: key === NEW ? null : key })}
                    />
                </div>
                <div className="w-40">
                    <Choice
                        label={`Role of goal ${number + 1}`}
                        value={goal.role}
                        options={(['primary', 'secondary', 'guardrail'] as const).map((value) => ({ value, label: value }))}
                        onChange={(role) => onChange({ ...goal, role })}
                    />
                </div>
                {onRemove && <Button onClick={onRemove}>Remove goal {number + 1}</Button>}
            </div>
            {errors[`goals.${number}.key`] && <p className="text-sm text-broken">{errors[`goals.${number}.key`]}</p>}
            {chosen && (
                <p className="text-sm text-soft">
                    {goalInWords(chosen)}, {countInWords(chosen)}
                </p>
            )}
            {goal.key === null && (
                <>
                    <TextField
                        label="Goal name"
                        value={goal.name}
                        error={errors[`goals.${number}.name`]}
                        maxLength={120}
                        onChange={(e) => onChange({ ...goal, name: e.target.value })}
                    />
                    <PathField
                        label="Goal path"
                        hosts={hosts}
                        op={goal.op}
                        path={goal.path}
                        error={errors[`goals.${number}.pages.value`] ?? errors[`goals.${number}.pages`]}
                        onChange={(op, path) => onChange({ ...goal, op, path })}
                    />
                </>
            )}
        </div>
    );
}
