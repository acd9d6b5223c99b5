// Vuetify, themed until nothing looks like its default: our colours, square-ish, quiet.
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'
import { theme } from './state/preferences'

const nonce = document.querySelector<HTMLScriptElement>('script[nonce]')?.nonce

export const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: {
    cspNonce: nonce,
    defaultTheme: theme.value,
    themes: {
      light: {
        dark: false,
        colors: {
          background: '#F3F0E8',
          surface: '#FBFAF5',
          primary: '#0E5560',
          secondary: '#A9561F',
          error: '#A11D1A',
          warning: '#855600',
          success: '#2B6549',
          info: '#38558A',
          'on-background': '#1E2422',
          'on-surface': '#1E2422',
        },
      },
      dark: {
        dark: true,
        colors: {
          background: '#1F1C18',
          surface: '#292520',
          primary: '#7CC4CE',
          secondary: '#E59A66',
          error: '#FF9D92',
          warning: '#F0C060',
          success: '#86CDA6',
          info: '#A5BEEE',
          'on-background': '#F1ECE2',
          'on-surface': '#F1ECE2',
          'on-primary': '#10282C',
        },
      },
    },
  },
  defaults: {
    global: { ripple: false },
    VTextField: { variant: 'outlined', density: 'compact', color: 'primary', hideDetails: 'auto' },
    VSelect: { variant: 'outlined', density: 'compact', color: 'primary', hideDetails: 'auto' },
    VTextarea: { variant: 'outlined', density: 'compact', color: 'primary', hideDetails: 'auto' },
    VBtn: { variant: 'outlined', elevation: 0, size: 'default' },
    VDialog: { maxWidth: 560 },
  },
})
