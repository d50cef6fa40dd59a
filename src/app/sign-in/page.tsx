import { Door } from '@/ui/door/door';
import { SignInForm } from '@/ui/door/sign-in-form';

export default function SignInPage() {
  return (
    <Door title="Sign in" lead="For designers and their teams. Guests come in by link or meeting code.">
      <SignInForm />
    </Door>
  );
}
