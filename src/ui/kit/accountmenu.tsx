'use client';
import { LogOut, Moon, Sun, UserRound } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { ask } from '@/api/ask';
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
          <span className="mid truncate max-w-[140px]">{name}</span>
        </>
      }
      groups={[
        {
          id: 'account',
          entries: [
            {
              id: 'theme',
              label: theme === 'chartroom' ? 'Nightwatch (dark)' : 'Chartroom (light)',
              mark: theme === 'chartroom' ? <Moon className="ico" /> : <Sun className="ico" />,
              act: switchTheme,
            },
            {
              id: 'out',
              label: 'Sign out',
              mark: <LogOut className="ico" />,
              act: async () => {
                await ask((api) => api.signOut()).catch(() => undefined);
                router.replace('/sign-in');
                router.refresh();
              },
            },
          ],
        },
      ]}
    />
  );
}
