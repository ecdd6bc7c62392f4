import type { Problem } from '../api/client';

/** What went wrong with a whole form. What belongs to a field stands at the field. */
export function FormProblem({ problem, words }: { problem: Problem | null; words?: string }) {
    return problem && Object.keys(problem.errors).length === 0 ? (
        <p role="alert" className="text-broken">
            {words ?? problem.message}
        </p>
    ) : null;
}
