<?xml version="1.0" encoding="UTF-8"?>
<sld:StyledLayerDescriptor version="1.1.0" xmlns:sld="http://www.opengis.net/sld" xmlns:se="http://www.opengis.net/se" xmlns:ogc="http://www.opengis.net/ogc">
  <sld:NamedLayer>
    <se:Name>Sheep for each household</se:Name>
    <sld:UserStyle>
      <se:FeatureTypeStyle>
        <se:Rule>
          <ogc:Filter>
            <ogc:PropertyIsLessThan>
              <ogc:Div>
                <ogc:PropertyName>sheep</ogc:PropertyName>
                <ogc:PropertyName>households</ogc:PropertyName>
              </ogc:Div>
              <ogc:Literal>3</ogc:Literal>
            </ogc:PropertyIsLessThan>
          </ogc:Filter>
          <se:PolygonSymbolizer>
            <se:Fill>
              <se:SvgParameter name="fill">#E3E5EF</se:SvgParameter>
            </se:Fill>
            <se:Stroke>
              <se:SvgParameter name="stroke">#FBFAF6</se:SvgParameter>
              <se:SvgParameter name="stroke-width">0.3571</se:SvgParameter>
              <se:SvgParameter name="stroke-linejoin">round</se:SvgParameter>
              <se:SvgParameter name="stroke-dasharray">8.571 2.5 1.429 2.5</se:SvgParameter>
            </se:Stroke>
          </se:PolygonSymbolizer>
        </se:Rule>
        <se:Rule>
          <ogc:Filter>
            <ogc:And>
              <ogc:PropertyIsGreaterThanOrEqualTo>
                <ogc:Div>
                  <ogc:PropertyName>sheep</ogc:PropertyName>
                  <ogc:PropertyName>households</ogc:PropertyName>
                </ogc:Div>
                <ogc:Literal>3</ogc:Literal>
              </ogc:PropertyIsGreaterThanOrEqualTo>
              <ogc:PropertyIsLessThan>
                <ogc:Div>
                  <ogc:PropertyName>sheep</ogc:PropertyName>
                  <ogc:PropertyName>households</ogc:PropertyName>
                </ogc:Div>
                <ogc:Literal>4</ogc:Literal>
              </ogc:PropertyIsLessThan>
            </ogc:And>
          </ogc:Filter>
          <se:PolygonSymbolizer>
            <se:Fill>
              <se:SvgParameter name="fill">#B4B8D3</se:SvgParameter>
            </se:Fill>
            <se:Stroke>
              <se:SvgParameter name="stroke">#FBFAF6</se:SvgParameter>
              <se:SvgParameter name="stroke-width">0.3571</se:SvgParameter>
              <se:SvgParameter name="stroke-linejoin">round</se:SvgParameter>
              <se:SvgParameter name="stroke-dasharray">8.571 2.5 1.429 2.5</se:SvgParameter>
            </se:Stroke>
          </se:PolygonSymbolizer>
        </se:Rule>
        <se:Rule>
          <ogc:Filter>
            <ogc:And>
              <ogc:PropertyIsGreaterThanOrEqualTo>
                <ogc:Div>
                  <ogc:PropertyName>sheep</ogc:PropertyName>
                  <ogc:PropertyName>households</ogc:PropertyName>
                </ogc:Div>
                <ogc:Literal>4</ogc:Literal>
              </ogc:PropertyIsGreaterThanOrEqualTo>
              <ogc:PropertyIsLessThan>
                <ogc:Div>
                  <ogc:PropertyName>sheep</ogc:PropertyName>
                  <ogc:PropertyName>households</ogc:PropertyName>
                </ogc:Div>
                <ogc:Literal>6</ogc:Literal>
              </ogc:PropertyIsLessThan>
            </ogc:And>
          </ogc:Filter>
          <se:PolygonSymbolizer>
            <se:Fill>
              <se:SvgParameter name="fill">#7F85B1</se:SvgParameter>
            </se:Fill>
            <se:Stroke>
              <se:SvgParameter name="stroke">#FBFAF6</se:SvgParameter>
              <se:SvgParameter name="stroke-width">0.3571</se:SvgParameter>
              <se:SvgParameter name="stroke-linejoin">round</se:SvgParameter>
              <se:SvgParameter name="stroke-dasharray">8.571 2.5 1.429 2.5</se:SvgParameter>
            </se:Stroke>
          </se:PolygonSymbolizer>
        </se:Rule>
        <se:Rule>
          <ogc:Filter>
            <ogc:And>
              <ogc:PropertyIsGreaterThanOrEqualTo>
                <ogc:Div>
                  <ogc:PropertyName>sheep</ogc:PropertyName>
                  <ogc:PropertyName>households</ogc:PropertyName>
                </ogc:Div>
                <ogc:Literal>6</ogc:Literal>
              </ogc:PropertyIsGreaterThanOrEqualTo>
              <ogc:PropertyIsLessThan>
                <ogc:Div>
                  <ogc:PropertyName>sheep</ogc:PropertyName>
                  <ogc:PropertyName>households</ogc:PropertyName>
                </ogc:Div>
                <ogc:Literal>7</ogc:Literal>
              </ogc:PropertyIsLessThan>
            </ogc:And>
          </ogc:Filter>
          <se:PolygonSymbolizer>
            <se:Fill>
              <se:SvgParameter name="fill">#4A519C</se:SvgParameter>
            </se:Fill>
            <se:Stroke>
              <se:SvgParameter name="stroke">#FBFAF6</se:SvgParameter>
              <se:SvgParameter name="stroke-width">0.3571</se:SvgParameter>
              <se:SvgParameter name="stroke-linejoin">round</se:SvgParameter>
              <se:SvgParameter name="stroke-dasharray">8.571 2.5 1.429 2.5</se:SvgParameter>
            </se:Stroke>
          </se:PolygonSymbolizer>
        </se:Rule>
        <se:Rule>
          <ogc:Filter>
            <ogc:PropertyIsGreaterThanOrEqualTo>
              <ogc:Div>
                <ogc:PropertyName>sheep</ogc:PropertyName>
                <ogc:PropertyName>households</ogc:PropertyName>
              </ogc:Div>
              <ogc:Literal>7</ogc:Literal>
            </ogc:PropertyIsGreaterThanOrEqualTo>
          </ogc:Filter>
          <se:PolygonSymbolizer>
            <se:Fill>
              <se:SvgParameter name="fill">#2B2E6A</se:SvgParameter>
            </se:Fill>
            <se:Stroke>
              <se:SvgParameter name="stroke">#FBFAF6</se:SvgParameter>
              <se:SvgParameter name="stroke-width">0.3571</se:SvgParameter>
              <se:SvgParameter name="stroke-linejoin">round</se:SvgParameter>
              <se:SvgParameter name="stroke-dasharray">8.571 2.5 1.429 2.5</se:SvgParameter>
            </se:Stroke>
          </se:PolygonSymbolizer>
        </se:Rule>
        <se:Rule>
          <se:Name>no data</se:Name>
          <se:ElseFilter />
          <se:PolygonSymbolizer>
            <se:Fill>
              <se:SvgParameter name="fill">#E4E1DC</se:SvgParameter>
            </se:Fill>
            <se:Stroke>
              <se:SvgParameter name="stroke">#B9B4AC</se:SvgParameter>
              <se:SvgParameter name="stroke-width">1.071</se:SvgParameter>
              <se:SvgParameter name="stroke-linejoin">round</se:SvgParameter>
              <se:SvgParameter name="stroke-dasharray">8.571 2.5 1.429 2.5</se:SvgParameter>
            </se:Stroke>
          </se:PolygonSymbolizer>
        </se:Rule>
      </se:FeatureTypeStyle>
    </sld:UserStyle>
  </sld:NamedLayer>
</sld:StyledLayerDescriptor>
