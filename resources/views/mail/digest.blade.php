@extends('mail.frame')
@section('words')
<h1>{{ $title }}</h1>
@foreach (['new' => 'New', 'open' => 'Not over yet', 'over' => 'Over'] as $key => $head)
@if ($digest["{$key}_count"] > 0)
<h2>{{ $head }}: {{ $digest["{$key}_count"] }}</h2>
<ul>
@foreach ($digest[$key] as $one)
<li><strong>{{ $one['name'] }}</strong>: {{ $held($one['message']) }}<br><span class="soft">{{ $moment($one['at']) }}{{ $one['over'] ? ', over since '.$moment($one['over']) : '' }}</span> <a href="{{ $one['url'] }}">See it</a></li>
@endforeach
</ul>
@if ($digest["{$key}_count"] > count($digest[$key]))<p class="soft">and {{ $digest["{$key}_count"] - count($digest[$key]) }} more.</p>@endif
@endif
@endforeach
<h2>Running: {{ $digest['running_count'] }}</h2>
<ul>
@foreach ($digest['running'] as $one)
<li><strong><a href="{{ $root }}/experiments/{{ $one['experiment'] }}/audits">{{ $one['name'] }}</a></strong>: {{ $held($one['sentence'] ?? 'not audited yet.') }}@if ($one['audited']) <span class="soft">{{ $moment($one['audited']) }}</span>@endif</li>
@endforeach
</ul>
@if ($digest['running_count'] > count($digest['running']))<p class="soft">and {{ $digest['running_count'] - count($digest['running']) }} more.</p>@endif
<p class="soft">Times are those of {{ $site->time_zone }}.</p>
@endsection
