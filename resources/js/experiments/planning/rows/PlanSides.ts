import type { Experiment } from '../../../api/client';
import type { Trial } from '../../../api/experiments';
import type { PlanBasis, PlanFollowed } from '../../../api/plans';
import type { measured, PlanForm } from '../planForm';

/** What each row of a plan that is being made has at hand. */
export interface PlanSides {
    form: PlanForm;
    set: (change: Partial<PlanForm>) => void;
    errors: Record<string, string>;
    experiment: Experiment;
    basis: Trial<PlanBasis>;
    found: ReturnType<typeof measured>;
    /** Takes what was measured again. */
    follow: () => void;
    followed: PlanFollowed | null;
}
