import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useChangeMember, type Member } from '../api/account';
import { useSiteKey } from '../app/address';
import { Choice } from '../parts/Choice';
import { Field } from '../parts/Field';
import { Question } from '../parts/Question';

interface Props {
    member: Member;
    what: 'close' | 'leave' | 'hand-over';
    /** Who could take over what they own. */
    others: Member[];
    onDone: () => void;
}

const WORDS = {
    close: {
        title: (name: string) => `Close the access of ${name}?`,
        yes: 'Close it',
        text: 'They may do nothing on this site any more, and their tokens for it end at once. What they made stays, with their name. You can let them in again.',
    },
    leave: {
        title: () => 'Leave this site?',
        yes: 'Leave it',
        text: 'You may do nothing on this site any more, and your tokens for it end at once. What you made stays, with your name. Only an owner can let you in again.',
    },
    'hand-over': {
        title: (name: string) => `Hand over what ${name} owns?`,
        yes: 'Hand it over',
        text: 'Whoever takes them over stands as their owner from now on.',
    },
};

/** Asks before somebody loses their access, and who takes over what they own. */
export function Closing({ member, what, others, onDone }: Props) {
    const site = useSiteKey();
    const change = useChangeMember(site);
    const navigate = useNavigate();
    const [to, setTo] = useState('');
    const words = WORDS[what];
    const successor = to === '' ? null : Number(to);
    const go = (): void =>
        change.mutate(what === 'leave' ? { do: 'leave', to: successor } : { do: what, person: member.id, to: successor }, {
            onSuccess: () => {
                onDone();
                if (what === 'leave') {
                    void navigate('/', { replace: true });
                }
            },
        });

    return (
        <Question
            open
            title={words.title(member.name)}
            yes={words.yes}
            danger={what !== 'hand-over'}
            busy={change.isPending || (what === 'hand-over' && successor === null)}
            error={change.error?.message}
            onYes={go}
            onNo={onDone}
        >
            <p>{words.text}</p>
            {member.owns > 0 && (
                <Field label={member.owns === 1 ? 'Who takes over their experiment' : `Who takes over their ${member.owns} experiments`}>
                    <Choice
                        label="Who takes over"
                        value={to}
                        options={[
                            { value: '', label: what === 'hand-over' ? 'choose somebody' : 'nobody' },
                            ...others.map((one) => ({ value: `${one.id}`, label: one.name })),
                        ]}
                        onChange={setTo}
                    />
                </Field>
            )}
        </Question>
    );
}
