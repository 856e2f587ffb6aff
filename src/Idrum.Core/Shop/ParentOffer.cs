using System.Text.Json.Nodes;
using Idrum.Core.Basics;
using Idrum.Core.Content;
using Idrum.Core.Machines;

namespace Idrum.Core.Shop;

/// <summary>A variant whose parent has changed since it was made: what taking the change over would make of it. An
/// offer, never done by itself.</summary>
/// <param name="Then">The parent's writing it was made from; null where the shop no longer has it.</param>
/// <param name="Now">The parent as it is now.</param>
/// <param name="Text">The variant's file, extending the parent as it is now.</param>
public sealed record ParentOffer(Layout? Then, Layout Now, string Text)
{
    /// <summary>The offer for a layout in use, or null where nothing has changed.</summary>
    /// <param name="shop">The shop.</param>
    /// <param name="layout">The variant, resolved.</param>
    public static ParentOffer? Of(ShopSnapshot shop, Layout layout)
    {
        if (
            layout.From is not { } from
            || shop.FindLayout(from.Id) is not { } now
            || Variants.HashOf(now) == from.Hash
            || shop.FindPinned(from.Hash) is not { } then
        )
        {
            return null;
        }
        var variant = Variants.Between(then, layout);
        variant["extends"] = new JsonObject { ["id"] = now.Id, ["hash"] = Variants.HashOf(now) };
        return new(then, now, variant.ToJsonString());
    }

    /// <summary>The offer for a file that was set aside because its parent is no longer the one it names, or
    /// null.</summary>
    /// <param name="shop">The shop.</param>
    /// <param name="file">The file.</param>
    public static ParentOffer? Of(ShopSnapshot shop, SetAside file)
    {
        if (
            JsonText.ObjectOf(file.Text) is not { } variant
            || variant["extends"] is not JsonObject extends
            || extends["hash"] is not JsonValue
            || extends["id"] is not JsonValue id
            || !id.TryGetValue<string>(out var parentId)
            || shop.FindLayout(parentId) is not { } now
            || variant["id"] is not JsonValue own
            || !own.TryGetValue<string>(out var ownId)
            || shop.FindLayout(ownId) is not null
        )
        {
            return null;
        }
        extends["hash"] = Variants.HashOf(now);
        return new(null, now, variant.ToJsonString());
    }
}
