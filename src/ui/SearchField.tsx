import { Search } from 'lucide-react';
import styles from './SearchField.module.css';

interface SearchFieldProps {
  readonly label: string;
  readonly placeholder: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}

/** Words to look for. */
export function SearchField({ label, placeholder, value, onChange }: SearchFieldProps) {
  return (
    <div className={styles.search}>
      <Search size={16} aria-hidden />
      <input
        className={styles.input}
        type="search"
        aria-label={label}
        placeholder={placeholder}
        value={value}
        onChange={(event) => {
          onChange(event.target.value);
        }}
      />
    </div>
  );
}
