import Link from 'next/link';
import { Message } from '@/ui/Message';

export default function NotFound() {
  return (
    <Message title="There is nothing at this address">
      <p>The project was deleted, or its address is wrong.</p>
      <Link href="/">Go to the list of projects</Link>
    </Message>
  );
}
