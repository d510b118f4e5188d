/** Page by page through a list; nothing where there is one page. */
import { Button } from "./parts";

interface Props {
  page: number;
  pages: number;
  onPage: (page: number) => void;
}

export function Pager({ page, pages, onPage }: Props) {
  if (pages <= 1) return null;
  return (
    <p className="mt-3 flex gap-3">
      <Button disabled={page <= 1} onClick={() => onPage(page - 1)}>
        Before
      </Button>
      <Button disabled={page >= pages} onClick={() => onPage(page + 1)}>
        Next
      </Button>
    </p>
  );
}
