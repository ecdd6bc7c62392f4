<?php

namespace App\Http\Middleware;

use Closure;
use Illuminate\Http\Request;
use Symfony\Component\HttpFoundation\Response;

/** A body that says that it is JSON and is not, or is too deep, is refused: half of a plan must not be taken for an empty one. */
class ReadableJson
{
    private const DEEPEST = 64;

    public function handle(Request $request, Closure $next): Response
    {
        if ($request->isJson() && $request->getContent() !== '') {
            $body = json_decode($request->getContent(), true, self::DEEPEST);
            $problem = match (true) {
                json_last_error() !== JSON_ERROR_NONE => 'The body is not JSON: '.json_last_error_msg().'.',
                ! is_array($body) => 'The body is a JSON object.',
                default => null,
            };
            if ($problem !== null) {
                return response()->json(['message' => $problem, 'errors' => ['body' => [$problem]]], 422);
            }
        }

        return $next($request);
    }
}
