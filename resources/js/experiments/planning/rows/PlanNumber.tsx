import { TextField } from '../../../parts/Field';
import type { PlanForm } from '../planForm';
import type { PlanSides } from './PlanSides';

type Typed = 'baseline' | 'sd' | 'effect' | 'daily' | 'weeks' | 'alpha' | 'power';

interface Props extends Pick<PlanSides, 'form' | 'set'> {
    label: string;
    name: Typed & keyof PlanForm;
    error?: string;
    hideLabel?: boolean;
    placeholder?: string;
}

/** A number of a plan, as it is typed. */
export function PlanNumber({ form, set, name, ...field }: Props) {
    return (
        <TextField
            {...field}
            inputMode="decimal"
            className="max-w-28"
            value={form[name]}
            onChange={(event) => set({ [name]: event.target.value })}
        />
    );
}
