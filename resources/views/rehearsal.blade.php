@php
    use Carbon\CarbonImmutable;
    $at = static fn (?string $time): string => $time === null ? '' : CarbonImmutable::parse($time)->setTimezone($zone)->format('j F Y, H:i').' ('.$zone.')';
@endphp
<!DOCTYPE html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Rehearsal of {{ $name }}</title>
<style>
    body { margin: 2rem auto; max-width: 62rem; padding: 0 1rem; color: #1b2430; background: #f6f5f0; font: 15px/1.5 system-ui, sans-serif; }
    h1 { font-size: 1.5rem; } h2 { font-size: 1.1rem; margin-top: 2rem; }
    .soft { color: #5a6472; } .leaf { background: #fff; border: 1px solid #d9d6cc; padding: .75rem 1rem; margin: .5rem 0; }
    .blocker { border-left: 5px solid #b3261e; } .warning { border-left: 5px solid #a66a00; } .note { border-left: 5px solid #7a7f87; }
    ul { margin: .25rem 0; padding-left: 1.2rem; } figure { margin: 1rem 0; } img { max-width: 100%; border: 1px solid #d9d6cc; }
</style>
</head>
<body>
<h1>Rehearsal of {{ $name }}</h1>
<p><strong>{{ $of['words'] }}</strong></p>
<p class="soft">{{ $at($of['started']) }}, by {{ $of['by'] }}, {{ $of['seconds'] }} s. @if ($of['revision'])Revision {{ $of['revision'] }}, @endif published file number {{ $of['configuration'] }}. Variants: {{ implode(', ', $of['variants']) }}. Screens: {{ implode(', ', $of['screens']) }}.</p>
<h2>What was found</h2>
@forelse ($findings as $one)
<div class="leaf {{ $one['severity'] }}">
    <strong>{{ $one['words'] }}</strong> {{ $one['cause'] }}
    @if ($one['next'] !== '')<br>{{ $one['next'] }}@endif
    <div class="soft">{{ $one['severity'] }} · {{ $one['code'] }}@if ($one['variant']) · variant {{ $one['variant'] }}@endif @if ($one['screens'] !== []) · {{ implode(', ', $one['screens']) }}@endif</div>
</div>
@empty
<p>Nothing.</p>
@endforelse
<h2>What was proven</h2>
@foreach ($parts as $part)
<h3>{{ $part['words'] }} <span class="soft">{{ $part['seconds'] === null ? 'not rehearsed' : number_format($part['seconds'], 1).' s' }}</span></h3>
<ul>
@foreach ($part['proofs'] as $one)
    <li>{{ $one['words'] }}@if ($one['variant']) <span class="soft">{{ $one['variant'] }}{{ $one['screen'] ? ', '.$one['screen'] : '' }}</span>@endif</li>
@endforeach
</ul>
@endforeach
<h2>The script</h2>
<ol>
@foreach ($steps as $step)
    <li>{{ ucfirst($step) }}</li>
@endforeach
</ol>
<h2>Pictures</h2>
@foreach ($pictures as $one)
<figure><img alt="{{ $one->name }}" src="data:{{ $one->media }};base64,{{ base64_encode($one->content) }}"><figcaption class="soft">{{ $one->name }}</figcaption></figure>
@endforeach
</body>
</html>
