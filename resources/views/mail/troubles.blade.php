@extends('mail.frame')
@section('words')
<h1>{{ $site->name }}: {{ $head }}</h1>
<ul>
@foreach ($notices as $one)
<li><strong>{{ $one->experiment?->name }}</strong>: {{ $held($one->message) }}<br>
<span class="soft">{{ $one->isDecision() ? 'To be decided since' : ($one->severity === 'blocker' ? 'Blocker: do not decide on this data. Found' : 'Warning. Found') }} {{ $moment($one->at) }}{{ $one->over_at ? ', over since '.$moment($one->over_at) : '' }}.</span><br>
<a href="{{ $address($one) }}">See why, and what to do</a></li>
@endforeach
</ul>
<p class="soft">Each trouble is told once. Times are those of {{ $site->time_zone }}.</p>
@endsection
