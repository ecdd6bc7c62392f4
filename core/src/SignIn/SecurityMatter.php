<?php

declare(strict_types=1);

namespace Pellix\Core\SignIn;

/** What entries of the security log are about. */
enum SecurityMatter: string
{
    case SignedIn = 'signed-in';
    case SignInRefused = 'sign-in-refused';
    case SignInSlowed = 'sign-in-slowed';
    case CodeRefused = 'code-refused';
    case RecoveryCodeUsed = 'recovery-code-used';
    case SignedOut = 'signed-out';
    case SessionEnded = 'session-ended';
    case ConfirmationRefused = 'confirmation-refused';
    case PasswordChanged = 'password-changed';
    case ResetAsked = 'reset-asked';
    case PasswordReset = 'password-reset';
    case LinkRefused = 'link-refused';
    case CodesOn = 'codes-on';
    case CodesOff = 'codes-off';
    case RecoveryCodesMade = 'recovery-codes-made';
    case Invited = 'invited';
    case InvitationRevoked = 'invitation-revoked';
    case InvitationAccepted = 'invitation-accepted';
    case RightChanged = 'right-changed';
    case AccessClosed = 'access-closed';
    case AccessOpened = 'access-opened';
    case LeftSite = 'left-site';
    case HandedOver = 'handed-over';
    case RightRefused = 'right-refused';
    case TokenMade = 'token-made';
    case TokenRevoked = 'token-revoked';
    case TokenRefused = 'token-refused';
    case Published = 'published';
    case KeyReplaced = 'key-replaced';
    case SiteDeleted = 'site-deleted';

    public function label(): string
    {
        return match ($this) {
            self::SignedIn => 'Signed in',
            self::SignInRefused => 'Sign-in refused',
            self::SignInSlowed => 'Sign-in stopped after many tries',
            self::CodeRefused => 'One-time code refused',
            self::RecoveryCodeUsed => 'Recovery code used',
            self::SignedOut => 'Signed out',
            self::SessionEnded => 'Session ended by its person',
            self::ConfirmationRefused => 'Confirmation refused',
            self::PasswordChanged => 'Password changed',
            self::ResetAsked => 'Link for a new password asked for',
            self::PasswordReset => 'Password set by a link',
            self::LinkRefused => 'Link refused',
            self::CodesOn => 'One-time codes switched on',
            self::CodesOff => 'One-time codes switched off',
            self::RecoveryCodesMade => 'Recovery codes made',
            self::Invited => 'Invited',
            self::InvitationRevoked => 'Invitation revoked',
            self::InvitationAccepted => 'Invitation accepted',
            self::RightChanged => 'Right changed',
            self::AccessClosed => 'Access closed',
            self::AccessOpened => 'Access opened again',
            self::LeftSite => 'Left the site',
            self::HandedOver => 'Experiments handed over',
            self::RightRefused => 'Refused for want of a right',
            self::TokenMade => 'Token made',
            self::TokenRevoked => 'Token revoked',
            self::TokenRefused => 'Token refused',
            self::Published => 'Published',
            self::KeyReplaced => 'Site key replaced',
            self::SiteDeleted => 'Site deleted',
        };
    }

    /** Whether somebody was kept from something: what attacks look like. */
    public function isRefusal(): bool
    {
        return in_array($this, [
            self::SignInRefused, self::SignInSlowed, self::CodeRefused, self::ConfirmationRefused, self::LinkRefused, self::RightRefused, self::TokenRefused,
        ], true);
    }
}
