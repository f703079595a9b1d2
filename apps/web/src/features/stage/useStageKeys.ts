import { useEffect } from 'react';
import { useNavigate } from 'react-router-dom';
import { useLiveHost } from '../../live/use/useLive';

/** Arrows go from scene to scene, Escape leaves the stage. */
export function useStageKeys(): void {
  const host = useLiveHost();
  const navigate = useNavigate();
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
      const kind = host.now().state.run ? 'show' : 'scene';
      if (event.key === 'ArrowRight') host.command({ kind, to: 'next' });
      else if (event.key === 'ArrowLeft') host.command({ kind, to: 'previous' });
      else if (event.key === 'Escape' && !document.fullscreenElement) void navigate('/sets');
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [host, navigate]);
}
