import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { App } from './app.tsx'
import './look/base.css'
import './look/frame.css'
import './look/controls.css'
import './look/overview.css'
import './look/problems.css'
import './look/collection.css'
import './look/change.css'
import './look/narrow.css'
import './look/entry.css'
import './look/form.css'
import './look/text.css'
import './look/model.css'

const root = document.getElementById('page')
if (root)
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  )
