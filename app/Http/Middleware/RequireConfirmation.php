<?php

namespace App\Http\Middleware;

use App\SignIn\Current;
use Carbon\CarbonImmutable;
use Closure;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/**
 * Before code is published, and before people and keys are changed, whoever has signed in proves again who they are, unless they did so
 * a moment ago: the screen may be somebody else's by now. A token is made for machines, and proves itself each time.
 */
class RequireConfirmation
{
    public function __construct(private readonly Current $current)
    {
    }

    public function handle(Request $request, Closure $next): Response
    {
        return $this->refused($request) ?? $next($request);
    }

    /** What is answered where somebody has to prove first who they are; null where they have. Also for whoever finds out late that visitors notice a change. */
    public function refused(Request $request): ?JsonResponse
    {
        if ($this->current->get() === null || $this->current->isConfirmed(CarbonImmutable::now('UTC'))) {
            return null;
        }
        $by = $request->user()->usesCodes() ? 'code' : 'password';

        return response()->json([
            'message' => $by === 'code' ? 'Type a one-time code first: this changes what others rely on.' : 'Type your password first: this changes what others rely on.', 'confirm' => $by,
        ], 423);
    }
}
