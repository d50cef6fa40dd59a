import { Door } from '@/ui/door/door';
import { GuestForm } from '@/ui/door/guest-form';

export default function JoinPage() {
  return (
    <Door
      title="Join a meeting"
      lead="Enter the six digits that you were given, and your name. Nothing else is needed."
    >
      <GuestForm />
    </Door>
  );
}
