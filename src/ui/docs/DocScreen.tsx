'use client';
import Box from '@mui/material/Box';
import { PageLink } from '../kit/PageLink';
import Markdown from 'react-markdown';
import remarkGfm from 'remark-gfm';
import { TopBar } from '../frame/TopBar';
import { DOCS } from '../frame/help-texts';

/** A page of the documentation, with the others beside it. */
export function DocScreen({ text }: { text: string }) {
  return (
    <Box sx={{ height: '100dvh', display: 'flex', flexDirection: 'column' }}>
      <TopBar />
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <Box
          component="nav"
          aria-label="Pages"
          sx={{ width: 240, flexShrink: 0, p: 2, bgcolor: 'panel', overflow: 'auto' }}
        >
          {DOCS.map(([name, title]) => (
            <Box key={name} sx={{ mb: 1 }}>
              <PageLink href={`/docs/${name}`}>{title}</PageLink>
            </Box>
          ))}
        </Box>
        <Box
          component="main"
          // So that the arrow keys scroll it.
          tabIndex={0}
          sx={{
            flex: 1,
            overflow: 'auto',
            px: 4,
            py: 3,
            '& > *': { maxWidth: 900 },
            '& h1': { fontSize: 24 },
            '& h2': { fontSize: 19, mt: 4 },
            '& pre': { bgcolor: 'panel', p: 1.5, overflow: 'auto', borderRadius: 1 },
            '& table': { borderCollapse: 'collapse', display: 'block', overflow: 'auto' },
            '& td, & th': {
              border: 1,
              borderColor: 'line',
              px: 1,
              py: 0.5,
              textAlign: 'left',
              verticalAlign: 'top',
            },
            '& img': { maxWidth: '100%' },
          }}
        >
          <Markdown
            remarkPlugins={[remarkGfm]}
            components={{
              a: ({ href = '', children }) => (
                <PageLink href={href.replace(/^([a-z-]+)\.md/, '/docs/$1')}>{children}</PageLink>
              ),
              // Pictures of the screens are beside the text only in the source.
              img: ({ alt }) => <em>{alt}</em>,
            }}
          >
            {text}
          </Markdown>
        </Box>
      </Box>
    </Box>
  );
}
