import { theDesk } from '../../desk'
import { toolOf } from '../../folder'

/** Why a page may show nothing, and what to do; `isServed` where a development server renders it. */
export async function whyEmpty(isServed: boolean): Promise<string> {
  if (isServed)
    return 'Nothing of this page is in sight: no text, no image and no colour. Its scripts may have failed; what the development server printed stands in the menu of projects.'
  const tool = toolOf((await theDesk().current.readText('package.json')) ?? '')
  return tool
    ? `The pages of this project are rendered by ${tool.name}, which does not run here. Start Steady Brush with the folder of the project, and its own server shows them: npx steady-brush path/to/project`
    : 'Nothing of this page is in sight: no text, no image and no colour. Scripts that fill it may have failed, or wait for a server.'
}
