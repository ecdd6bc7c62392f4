<?php

namespace App\Http\Requests;

use Illuminate\Foundation\Http\FormRequest;
use Illuminate\Validation\ValidationException;
use Pellix\Core\InvalidInput;
use Pellix\Core\Planning\Outcome;
use Pellix\Core\Planning\Plan;

/** A plan as a person makes it; who and when is added where it is kept. */
class PlanRequest extends FormRequest
{
    /** @return array<string, mixed> */
    public function rules(): array
    {
        return ['made_by' => ['prohibited'], 'made_at' => ['prohibited'], 'weights' => ['array', 'list', 'max:31'], 'within' => ['array', 'list', 'max:53']];
    }

    /** @throws ValidationException with the message at the field */
    public function plan(): Plan
    {
        try {
            $plan = Plan::read(SaveExperimentRequest::given($this));
            // What no number of visitors can find is no plan.
            Outcome::of($plan);

            return $plan;
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$e->field === '' ? 'plan' : $e->field => $e->getMessage()]);
        }
    }
}
