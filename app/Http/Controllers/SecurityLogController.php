<?php

namespace App\Http\Controllers;

use App\Logbook\SecurityEntries;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\Rule;
use Pellix\Core\SignIn\SecurityMatter;

/** Who got in, who was refused, and what became of rights, keys and tokens: for owners. */
class SecurityLogController extends Controller
{
    public function index(Request $request, Site $site): JsonResponse
    {
        $asked = $request->validate([
            'matter' => ['nullable', Rule::enum(SecurityMatter::class)], 'person' => ['nullable', 'integer'], 'refusals' => ['nullable', 'in:1'], 'before' => ['nullable', 'integer', 'min:1'],
        ]);

        return response()->json(SecurityEntries::page($site, [...$asked, 'refusals' => isset($asked['refusals'])]));
    }
}
