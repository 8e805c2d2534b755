<wfs:FeatureCollection xmlns:gml="http://www.opengis.net/gml/3.2" xmlns:c="urn:c"
 xmlns:wfs="urn:w"><wfs:member><c:Croft gml:id="c.1"><c:sheep>12</c:sheep><c:keeper><c:name>Ann</c:name></c:keeper>
<c:place><gml:MultiSurface srsName="urn:ogc:def:crs:EPSG::4326" srsDimension="2"><gml:surfaceMember><gml:Polygon>
<gml:exterior><gml:LinearRing><gml:posList>61 -9 61 -8 62 -8 61 -9</gml:posList></gml:LinearRing></gml:exterior>
</gml:Polygon></gml:surfaceMember></gml:MultiSurface></c:place></c:Croft></wfs:member><wfs:member><c:Path><c:line>
<gml:Curve srsName="EPSG:32629"><gml:segments><gml:Arc><gml:posList>1 0 0 1 -1 0</gml:posList></gml:Arc><gml:Circle>
<gml:posList>1 0 0 1 -1 0</gml:posList></gml:Circle></gml:segments></gml:Curve></c:line></c:Path></wfs:member>
</wfs:FeatureCollection>