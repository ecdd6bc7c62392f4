import { useState } from 'react';
import { Choice } from '../parts/Choice';
import { TextField } from '../parts/Field';
import { PATH_OPS, takeApart, type PathOp, type TakenApart } from '../parts/rules';

interface Props {
    label: string;
    hosts: string[];
    op: PathOp;
    path: string;
    error?: string;
    onChange: (op: PathOp, path: string) => void;
}

/** A condition on the path of an address. A whole address may be pasted: it is taken apart and explained. */
export function PathField({ label, hosts, op, path, error, onChange }: Props) {
    const [taken, setTaken] = useState<TakenApart | null>(null);
    const leave = (): void => {
        const apart = takeApart(path, hosts);
        if (apart.note || apart.error || apart.value !== path) {
            setTaken(apart);
            onChange(op, apart.value);
        }
    };

    return (
        <div className="grid grid-cols-[9.5rem_1fr] items-start gap-2">
            <div className="pt-[1.58rem]">
                <Choice label={`${label}: how it compares`} value={op} options={PATH_OPS} onChange={(next) => onChange(next, path)} />
            </div>
            <TextField
                label={label}
                value={path}
                className="font-mono text-sm"
                placeholder="/catalogue"
                error={taken?.error ?? error}
                note={taken?.note ?? 'The part after the host; you may paste a whole address.'}
                onBlur={leave}
                onChange={(event) => {
                    setTaken(null);
                    onChange(op, event.target.value);
                }}
            />
        </div>
    );
}
