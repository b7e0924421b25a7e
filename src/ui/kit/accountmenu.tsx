'use client';
import { LogOut, Moon, Sun, UserRound } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { api } from '@/api';
import { Menu } from './menu';
import { currentTheme, switchTheme } from './theme';

export function useTheme() {
  const [theme, setTheme] = useState<'chartroom' | 'nightwatch'>('chartroom');
  useEffect(() => {
    const read = () => setTheme(currentTheme());
    read();
    window.addEventListener('scaphos-theme', read);
    return () => window.removeEventListener('scaphos-theme', read);
  }, []);
  return theme;
}

export function AccountMenu({ name }: { name: string }) {
  const router = useRouter();
  const theme = useTheme();
  return (
    <Menu
      label={`Account of ${name}`}
      align="right"
      className="btn btn-line btn-sm"
      button={
        <>
          <UserRound className="ico" />
          {name}
        </>
      }
    >
      {(close) => (
        <>
          <button
            type="button"
            role="menuitem"
            onClick={() => {
              switchTheme();
              close();
            }}
          >
            {theme === 'chartroom' ? <Moon className="ico" /> : <Sun className="ico" />}
            {theme === 'chartroom' ? 'Nightwatch (dark)' : 'Chartroom (light)'}
          </button>
          <button
            type="button"
            role="menuitem"
            onClick={async () => {
              await api.signOut().catch(() => undefined);
              router.replace('/sign-in');
              router.refresh();
            }}
          >
            <LogOut className="ico" />
            Sign out
          </button>
        </>
      )}
    </Menu>
  );
}
