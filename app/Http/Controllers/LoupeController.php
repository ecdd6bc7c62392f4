<?php

namespace App\Http\Controllers;

use App\Loupe\Access;
use App\Loupe\Drafting;
use App\Loupe\DraftShape;
use App\Loupe\GoalMark;
use App\Loupe\Heard;
use App\Loupe\Opening;
use App\Loupe\Refused;
use App\Models\LoupeLink;
use App\Rehearsals\Scripts;
use Carbon\CarbonImmutable;
use Closure;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\WallTime;
use Pellix\Core\InvalidInput;
use Pellix\Core\Loupe\Purpose;
use Pellix\Core\Rehearsal\Script;
use Symfony\Component\HttpKernel\Exception\HttpException;

/**
 * What the Loupe asks from the site's own page: another origin, without cookies, with the token of its link in a text body, so that no
 * preflight is needed. A page learns nothing here that it does not hold a token for.
 */
class LoupeController extends Controller
{
    private const MOST_BYTES = 4096;

    /** Of two lists of changes, twice what a draft has at most. */
    private const MOST_BYTES_KEPT = 1_000_000;

    private const MOST_BYTES_SCRIPT = 200_000;

    public function open(Request $request, Opening $opening): JsonResponse
    {
        return self::answer($request, static function (LoupeLink $link, array $asked) use ($opening): array {
            $now = CarbonImmutable::now('UTC');
            $answer = $opening->of($link, $now, self::at($asked['at'] ?? null, $link));
            LoupeLink::query()->whereKey($link->id)->update(['used_at' => $now->format('Y-m-d H:i:s.v'), 'pages' => $link->pages + 1]);

            return $answer;
        });
    }

    /** A time by the clock of the site; anything else is now. */
    private static function at(mixed $asked, LoupeLink $link): ?CarbonImmutable
    {
        $read = is_string($asked) ? WallTime::read($asked, new \DateTimeZone($link->site->time_zone)) : null;

        return $read === null ? null : CarbonImmutable::instance($read->moment);
    }

    public function heard(Request $request): JsonResponse
    {
        return self::answer($request, static function (LoupeLink $link, array $asked): array {
            $visitor = $asked['visitor'] ?? null;
            $link->purpose->shows() || throw new Refused('A preview does not show what happens behind it.');
            is_string($visitor) && preg_match('/\A[a-z0-9]{20,40}\z/', $visitor) === 1 || throw new Refused('Say whose events are asked for.');

            return Heard::of($link, $visitor);
        });
    }

    /** The changes of the variant by now; asked again and again, since somebody else may be at it. */
    public function draft(Request $request, Drafting $drafting): JsonResponse
    {
        return self::answer($request, static function (LoupeLink $link) use ($drafting): array {
            self::mayChange($link);

            return $drafting->of($link);
        });
    }

    /** Keeps what was made of the changes, together with what others have made of them. */
    public function keep(Request $request, Drafting $drafting): JsonResponse
    {
        return self::answer($request, static function (LoupeLink $link, array $asked) use ($drafting): array {
            self::mayChange($link);

            return $drafting->keep($link, ...DraftShape::of($asked));
        }, self::MOST_BYTES_KEPT);
    }

    /** Makes a goal of an element, and gives it to the experiment. */
    public function goal(Request $request, GoalMark $mark): JsonResponse
    {
        return self::answer($request, static function (LoupeLink $link, array $asked) use ($mark): array {
            self::mayChange($link);

            return $mark->make($link, $asked);
        });
    }

    /** Keeps a walk through the site as the script of the experiment's rehearsals. */
    public function script(Request $request, Scripts $scripts): JsonResponse
    {
        return self::answer($request, static function (LoupeLink $link, array $asked) use ($scripts): array {
            $experiment = $link->purpose->shows() ? $link->experiment : null;
            $experiment !== null && $link->person !== null || throw new Refused('This link is of no experiment that could be rehearsed.');
            try {
                $script = Script::read(is_string($asked['script'] ?? null) ? json_decode($asked['script'], true, 8) : null);
            } catch (InvalidInput $e) {
                throw ValidationException::withMessages([$e->field === '' ? 'steps' : $e->field => $e->getMessage()]);
            }
            $by = ($asked['replace'] ?? null) === 'yes' ? null : $scripts->author($experiment);
            abort_if($by !== null, 409, "{$by} has written a script for these rehearsals already.");
            $scripts->keep($experiment, $script, $link->person);

            return ['steps' => count($script->steps)];
        }, self::MOST_BYTES_SCRIPT);
    }

    private static function mayChange(LoupeLink $link): void
    {
        $link->purpose === Purpose::Change || throw new Refused('This link shows, and changes nothing.');
    }

    /** @param Closure(LoupeLink, array<mixed>): array<string, mixed> $work */
    private static function answer(Request $request, Closure $work, int $most = self::MOST_BYTES): JsonResponse
    {
        $origin = (string) $request->headers->get('Origin');
        try {
            $body = $request->getContent();
            $asked = strlen($body) > $most ? null : json_decode($body, true, 8);
            $link = Access::of(is_array($asked) ? $asked['token'] ?? null : null, $origin, CarbonImmutable::now('UTC'));
            $response = new JsonResponse($work($link, (array) $asked));
            $allowed = $origin;
        } catch (Refused $e) {
            // That it was refused may be read by whoever asked.
            $response = new JsonResponse(['message' => $e->getMessage()], 403);
            $allowed = '*';
        } catch (ValidationException $e) {
            $response = new JsonResponse(['message' => $e->getMessage(), 'errors' => $e->errors()], 422);
            $allowed = '*';
        } catch (HttpException $e) {
            $response = new JsonResponse(['message' => $e->getMessage()], $e->getStatusCode());
            $allowed = '*';
        }

        return $response->withHeaders(['Access-Control-Allow-Origin' => $allowed, 'Vary' => 'Origin', 'Cache-Control' => 'no-store', 'Referrer-Policy' => 'no-referrer', 'X-Robots-Tag' => 'noindex, nofollow']);
    }
}
