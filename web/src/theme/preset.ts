import { definePreset } from '@primeuix/themes'
import Aura from '@primeuix/themes/aura'

const variable = (name: string) => `var(--${name})`
const scale = (name: string) =>
  Object.fromEntries(
    ['50', '100', '200', '300', '400', '500', '600', '700', '800', '900', '950'].map((step) => [step, variable(name)]),
  )

const scheme = {
  primary: {
    color: variable('woad'),
    contrastColor: variable('on-woad'),
    hoverColor: variable('woad'),
    activeColor: variable('woad'),
  },
  highlight: {
    background: variable('woad-wash'),
    focusBackground: variable('woad-wash'),
    color: variable('ink'),
    focusColor: variable('ink'),
  },
  text: { color: variable('ink'), mutedColor: variable('soft'), hoverColor: variable('ink') },
  content: {
    background: variable('raised'),
    hoverBackground: variable('sunk'),
    borderColor: variable('hairline'),
    color: variable('ink'),
  },
  overlay: {
    select: {
      background: variable('raised'),
      borderColor: variable('hairline'),
      color: variable('ink'),
    },
    popover: {
      background: variable('raised'),
      borderColor: variable('hairline'),
      color: variable('ink'),
    },
    modal: {
      background: variable('raised'),
      borderColor: variable('hairline'),
      color: variable('ink'),
    },
  },
  formField: {
    background: variable('raised'),
    borderColor: variable('soft'),
    hoverBorderColor: variable('ink'),
    focusBorderColor: variable('woad'),
    color: variable('ink'),
    placeholderColor: variable('soft'),
    shadow: 'none',
  },
}

/** The component library in the product's own paper, ink and dyes. */
export const preset = definePreset(Aura, {
  semantic: {
    primary: scale('woad'),
    formField: { paddingX: '0.6rem', paddingY: '0.32rem', borderRadius: '4px' },
    colorScheme: { light: scheme, dark: scheme },
  },
  components: {
    button: {
      root: {
        borderRadius: '4px',
        paddingX: '0.75rem',
        paddingY: '0.32rem',
        label: { fontWeight: '500' },
      },
      colorScheme: Object.fromEntries(
        ['light', 'dark'].map((mode) => [
          mode,
          {
            root: {
              secondary: {
                background: variable('raised'),
                hoverBackground: variable('sunk'),
                activeBackground: variable('sunk'),
                borderColor: variable('hairline'),
                hoverBorderColor: variable('soft'),
                color: variable('ink'),
                hoverColor: variable('ink'),
              },
            },
          },
        ]),
      ),
    },
  },
})
