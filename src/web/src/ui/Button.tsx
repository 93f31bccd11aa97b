import type { ButtonHTMLAttributes } from 'react';

type Variant = 'primary' | 'plain' | 'quiet';

const variants: Record<Variant, string> = {
  primary: 'bg-dawn text-on-dawn border-dawn hover:brightness-110',
  plain: 'border-rule-strong bg-leaf hover:border-dawn',
  quiet: 'border-transparent hover:bg-wash',
};

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  variant?: Variant;
}

export function Button({ variant = 'plain', className = '', type = 'button', ...rest }: Props) {
  return (
    <button
      type={type}
      className={`inline-flex items-center justify-center gap-1.5 whitespace-nowrap rounded-md border-[1.5px] px-3 py-1 font-medium transition-colors disabled:cursor-not-allowed disabled:opacity-55 ${variants[variant]} ${className}`}
      {...rest}
    />
  );
}
