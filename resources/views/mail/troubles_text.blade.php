{!! $site->name !!}: {!! $head !!}

@foreach ($notices as $one)
* {!! $one->experiment?->name !!}: {!! $one->message !!}
  {!! $one->isDecision() ? 'To be decided since' : ($one->severity === 'blocker' ? 'Blocker: do not decide on this data. Found' : 'Warning. Found') !!} {!! $moment($one->at) !!}{!! $one->over_at ? ', over since '.$moment($one->over_at) : '' !!}.
  {!! $address($one) !!}

@endforeach
Each trouble is told once. Times are those of {!! $site->time_zone !!}.
What you are told, and when not, you choose here: {!! $root !!}/notices/settings
