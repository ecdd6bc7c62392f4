<?php

namespace App\Http\Controllers;

use App\Experiments\AdviceTrial;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Experiments\InvalidExperiment;
use Pellix\Core\Experiments\NamingPattern;

/** How experiments of a site are named: it suggests, and refuses nothing. */
class NamingController extends Controller
{
    public function show(Request $request, Site $site): JsonResponse
    {
        $given = $request->validate(['name' => ['nullable', 'string', 'max:120'], 'path' => ['nullable', 'string', 'max:2000']]);
        $name = trim((string) ($given['name'] ?? ''));
        $pattern = AdviceTrial::naming($site);
        $fits = $pattern === null || $name === '' || $pattern->fits($name);

        return response()->json([
            'pattern' => $site->naming,
            'fits' => $fits,
            'suggestion' => $pattern === null || $name === '' || $fits ? null : $pattern->suggest($name, (string) ($given['path'] ?? ''), $site->experiments()->count() + 1, now($site->time_zone)),
        ]);
    }

    public function update(Request $request, Site $site): JsonResponse
    {
        $pattern = trim((string) ($request->validate(['pattern' => ['present', 'nullable', 'string', 'max:120']])['pattern'] ?? ''));
        try {
            $site->update(['naming' => $pattern === '' ? null : NamingPattern::read($pattern)->template]);
        } catch (InvalidExperiment $e) {
            throw ValidationException::withMessages(['pattern' => $e->getMessage()]);
        }

        return $this->show($request, $site);
    }
}
