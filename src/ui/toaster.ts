/** What shows messages in passing: a part of its own, which loads late. */
export { Toaster, toast } from 'sonner';
