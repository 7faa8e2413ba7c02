using System.Xml;

namespace Tembri.Formats.Scores;

/// <summary>Reads on as another reader does, and refuses XML that is nested too deep or has too much in it.</summary>
internal sealed class ShallowXmlReader(XmlReader inner, int deepest, int most,
    CancellationToken cancel) : XmlReader, IXmlLineInfo
{
    private int _nodes;

    public override bool Read()
    {
        var more = inner.Read();
        _nodes += 1 + inner.AttributeCount;
        if (_nodes > most)
            throw new XmlException($"There are more than {most:N0} elements and attributes in it, which no song needs.", null,
                LineNumber, LinePosition);
        if (_nodes % 1024 == 0) cancel.ThrowIfCancellationRequested();
        if (inner.Depth > deepest)
            throw new XmlException($"Elements are nested more than {deepest} deep.", null, LineNumber, LinePosition);
        return more;
    }

    public int LineNumber => (inner as IXmlLineInfo)?.LineNumber ?? 0;

    public int LinePosition => (inner as IXmlLineInfo)?.LinePosition ?? 0;

    public bool HasLineInfo() => (inner as IXmlLineInfo)?.HasLineInfo() ?? false;

    public override int AttributeCount => inner.AttributeCount;
    public override string BaseURI => inner.BaseURI;
    public override int Depth => inner.Depth;
    public override bool EOF => inner.EOF;
    public override bool IsEmptyElement => inner.IsEmptyElement;
    public override string LocalName => inner.LocalName;
    public override string NamespaceURI => inner.NamespaceURI;
    public override XmlNameTable NameTable => inner.NameTable;
    public override XmlNodeType NodeType => inner.NodeType;
    public override string Prefix => inner.Prefix;
    public override ReadState ReadState => inner.ReadState;
    public override string Value => inner.Value;
    public override string GetAttribute(int i) => inner.GetAttribute(i);
    public override string? GetAttribute(string name) => inner.GetAttribute(name);
    public override string? GetAttribute(string name, string? namespaceURI) => inner.GetAttribute(name, namespaceURI);
    public override string? LookupNamespace(string prefix) => inner.LookupNamespace(prefix);
    public override bool MoveToAttribute(string name) => inner.MoveToAttribute(name);
    public override bool MoveToAttribute(string name, string? ns) => inner.MoveToAttribute(name, ns);
    public override bool MoveToElement() => inner.MoveToElement();
    public override bool MoveToFirstAttribute() => inner.MoveToFirstAttribute();
    public override bool MoveToNextAttribute() => inner.MoveToNextAttribute();
    public override bool ReadAttributeValue() => inner.ReadAttributeValue();
    public override void ResolveEntity() => inner.ResolveEntity();
}
