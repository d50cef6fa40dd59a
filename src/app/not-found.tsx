import { Door } from '@/ui/door/door';

export default function NotFound() {
  return (
    <Door
      title="Nothing here for you"
      lead="The address is wrong, what was here is gone, or your access does not reach it. Nothing was changed."
    >
      <a href="/">Go to the beginning</a>
    </Door>
  );
}
