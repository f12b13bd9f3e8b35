import { Pencil, Trash2 } from 'lucide-react';
import type { JSX, ReactNode } from 'react';

/** A part's role and name, and what can be done with it. */
export function PartTitle({
  role,
  name,
  onEdit,
  onRemove,
}: {
  role: string;
  name: string;
  onEdit: () => void;
  onRemove?: () => void;
}): JSX.Element {
  return (
    <div className="flex items-start justify-between gap-2">
      <div className="min-w-0">
        <p className="label">{role}</p>
        <h2 className="text-lg leading-snug break-words">{name}</h2>
      </div>
      <div className="flex shrink-0">
        <IconButton label={`Edit ${name}`} onClick={onEdit}>
          <Pencil size={18} aria-hidden />
        </IconButton>
        {onRemove !== undefined && (
          <IconButton label={`Take out ${name}`} onClick={onRemove}>
            <Trash2 size={18} aria-hidden />
          </IconButton>
        )}
      </div>
    </div>
  );
}

export function IconButton({ label, onClick, children }: { label: string; onClick: () => void; children: ReactNode }): JSX.Element {
  return (
    <button type="button" className="btn btn-ghost btn-square text-quiet" aria-label={label} title={label} onClick={onClick}>
      {children}
    </button>
  );
}

export function Fact({ name, value, attention = false }: { name: string; value: string; attention?: boolean }): JSX.Element {
  return (
    <div className="flex items-baseline justify-between gap-4">
      <dt className="text-quiet text-sm">{name}</dt>
      <dd className={`text-right font-medium ${attention ? 'text-attention' : ''}`}>{value}</dd>
    </div>
  );
}
