import { useState, type FormEvent } from 'react';
import { Link, useParams } from 'react-router';
import { useAskReset, useReset, useSetPassword } from '../api/account';
import { Problem } from '../api/client';
import { Button } from '../parts/Button';
import { FormProblem } from '../parts/FormProblem';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { Door } from './Door';
import { EmailField } from './EmailField';
import { NewPassword } from './NewPassword';

const toSignIn = (
    <Link to="/sign-in" className="text-accent underline underline-offset-4">
        To the sign-in page
    </Link>
);

/** A new password: asked for by mail, and set by the link that comes. */
export function Reset() {
    const { token } = useParams();
    useTitle('A new password');

    return (
        <Door>
            <h2 className="mb-3 text-lg font-semibold">A new password</h2>
            {token ? <SetIt token={token} /> : <AskForIt />}
        </Door>
    );
}

function AskForIt() {
    const [email, setEmail] = useState('');
    const ask = useAskReset();
    const problem = ask.error instanceof Problem ? ask.error : null;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        ask.mutate({ email });
    };

    if (ask.isSuccess) {
        return (
            <div className="space-y-4">
                <p role="status">{ask.data.message}</p>
                {toSignIn}
            </div>
        );
    }

    return (
        <form onSubmit={submit} className="space-y-4" noValidate>
            <EmailField
                value={email}
                error={problem?.errors.email?.[0]}
                note="A link with which you set a new password goes to it."
                autoFocus
                onChange={setEmail}
            />
            <FormProblem problem={problem} />
            <div className="flex items-center gap-5">
                <Button type="submit" look="main" disabled={ask.isPending}>
                    Send the link
                </Button>
                {toSignIn}
            </div>
        </form>
    );
}

function SetIt({ token }: { token: string }) {
    const link = useReset(token);
    const set = useSetPassword(token);
    const [password, setPassword] = useState('');
    const problem = set.error instanceof Problem ? set.error : null;
    const submit = (event: FormEvent): void => {
        event.preventDefault();
        set.mutate({ password });
    };

    if (set.isSuccess) {
        return (
            <div className="space-y-4">
                <p role="status">The password is set, and every session of the account has ended. Sign in with the new one.</p>
                {toSignIn}
            </div>
        );
    }

    return (
        <Waiting query={link}>
            {({ email }) => (
                <form onSubmit={submit} className="space-y-4" noValidate>
                    <p className="text-soft">
                        For <strong className="text-ink">{email}</strong>
                    </p>
                    <NewPassword value={password} error={problem?.errors.password?.[0]} onChange={setPassword} />
                    <FormProblem problem={problem} />
                    <Button type="submit" look="main" disabled={set.isPending}>
                        Set it
                    </Button>
                </form>
            )}
        </Waiting>
    );
}
