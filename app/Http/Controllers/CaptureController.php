<?php

namespace App\Http\Controllers;

use App\Measures\HitKeeper;
use App\Models\Site;
use App\Publishing\Publisher;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\Rule;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Wiring\DataEvent;
use Pellix\Core\Wiring\InvalidWiring;

/** What a site's pages send, and under which conditions. */
class CaptureController extends Controller
{
    public function show(Site $site): JsonResponse
    {
        return response()->json([
            'data_layer' => $site->data_layer,
            'data_events' => array_map(static fn (array $one): array => DataEvent::read($one)->toArray(), $site->data_events),
            'consent_mode' => $site->consent_mode,
            'honour_gpc' => $site->honour_gpc,
            'session_minutes' => $site->session_minutes,
        ]);
    }

    public function update(Request $request, Site $site, Publisher $publisher, HitKeeper $hits): JsonResponse
    {
        $given = $request->validate([
            'data_layer' => ['nullable', 'string', 'regex:/\A[A-Za-z_$][A-Za-z0-9_$]{0,63}\z/'],
            'data_events' => ['present', 'array', 'list', 'max:50'],
            'data_events.*' => ['array'],
            'consent_mode' => ['required', Rule::in(['none', 'ask'])],
            'honour_gpc' => ['required', 'boolean:strict'],
            'session_minutes' => ['required', 'integer', 'between:1,1440'],
        ], ['data_layer.regex' => 'The name of a variable on window is needed, such as shelf.']);
        try {
            $given['data_events'] = array_map(
                static fn (array $one, int $i): array => Fields::within("data_events.{$i}", static fn (): array => DataEvent::read($one)->toArray(), InvalidWiring::class),
                $given['data_events'],
                array_keys($given['data_events']),
            );
        } catch (InvalidWiring $e) {
            throw ValidationException::withMessages([$e->field => $e->getMessage()]);
        }
        $recount = (int) $given['session_minutes'] !== $site->session_minutes;
        $site->update($given);
        $publisher->publish($site);
        foreach ($recount ? $site->goals()->get() : [] as $goal) {
            // The numbers of the sessions are kept with the hits.
            $hits->recount($site, $goal);
        }

        return $this->show($site);
    }
}
