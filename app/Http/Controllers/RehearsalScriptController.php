<?php

namespace App\Http\Controllers;

use App\Models\Experiment;
use App\Models\Site;
use App\Rehearsals\Scripts;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;
use Pellix\Core\InvalidInput;
use Pellix\Core\Rehearsal\Script;

/** The script of an experiment's rehearsals: as it follows from the experiment, or as somebody has written it. */
class RehearsalScriptController extends Controller
{
    public function __construct(private readonly Scripts $scripts)
    {
    }

    public function show(Site $site, Experiment $experiment): JsonResponse
    {
        return response()->json($this->scripts->read($experiment));
    }

    public function update(Request $request, Site $site, Experiment $experiment): JsonResponse
    {
        try {
            $script = Script::read($request->json()->all());
        } catch (InvalidInput $e) {
            throw ValidationException::withMessages([$e->field === '' ? 'steps' : $e->field => $e->getMessage()]);
        }
        $this->scripts->keep($experiment, $script, $request->user());

        return response()->json($this->scripts->read($experiment));
    }

    /** Back to what follows from the experiment. */
    public function destroy(Site $site, Experiment $experiment): JsonResponse
    {
        $this->scripts->forget($experiment);

        return response()->json($this->scripts->read($experiment));
    }
}
