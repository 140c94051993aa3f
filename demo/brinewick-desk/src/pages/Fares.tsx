import { FARES } from '../data'
import { Card } from '../parts/Card'
import './Fares.css'

export function Fares() {
  return (
    <>
      <h1>Fares</h1>
      <div className="fares">
        {FARES.map((fare) => (
          <Card key={fare.name} title={fare.name} tone={fare.isNew ? 'strong' : 'plain'} note={fare.note}>
            <b className="price">£{fare.price.toFixed(2)}</b>
          </Card>
        ))}
      </div>
      <Card title="Children under five" note="With a grown-up">
        <b className="price">Free</b>
      </Card>
    </>
  )
}
