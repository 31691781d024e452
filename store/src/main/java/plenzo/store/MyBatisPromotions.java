package plenzo.store;

import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.digest.Digest;
import plenzo.core.keeping.Kept.Filter;
import plenzo.core.keeping.Kept.PromotionShelf;
import plenzo.core.keeping.Slice;
import plenzo.core.person.Sight;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.PromotionHead;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Promotions. What was compared, found and planned lies apart: lists and states do not move it, and
 * it is written only when it is another.
 */
final class MyBatisPromotions extends MyBatisShelf<Promotion> implements PromotionShelf {
  private static final String LOOK = "look";
  private static final String COMPONENTS = "components";
  private static final List<String> LARGE = List.of("findings", "plan");

  MyBatisPromotions(
      RecordMapper mapper, Description<Promotion> as, Touched touched, ReadBefore before) {
    super(mapper, Table.PROMOTION, as, touched, before);
  }

  @Override
  void lean(ObjectNode body) {
    ((ObjectNode) body.get(LOOK)).remove(COMPONENTS);
    body.remove(LARGE);
  }

  /** Null for one that was written before it was kept apart. */
  @Override
  @Nullable String apart(String id) {
    return mapper().matter(id);
  }

  @Override
  void whole(ObjectNode body, String apart) {
    ObjectNode matter = (ObjectNode) JSON.readTree(apart);
    ((ObjectNode) body.get(LOOK)).set(COMPONENTS, matter.get(COMPONENTS));
    LARGE.forEach(name -> body.set(name, matter.get(name)));
  }

  private static String matter(Promotion p) {
    ObjectNode out = JSON.createObjectNode();
    out.set(COMPONENTS, JSON.valueToTree(p.components()));
    out.set("findings", JSON.valueToTree(p.findings()));
    out.set("plan", JSON.<JsonNode>valueToTree(p.plan()));
    return JSON.writeValueAsString(out);
  }

  private void beside(Promotion p) {
    String id = String.valueOf(p.number());
    String matter = matter(p);
    String digest = Digest.of(matter).hex();
    String known = mapper().matterDigest(id);
    if (known == null) {
      mapper().insertMatter(id, digest, matter);
    } else if (!known.equals(digest)) {
      mapper().updateMatter(id, digest, matter);
    }
    mapper().headPromotion(PromotionRow.of(p));
  }

  @Override
  public void insert(Promotion p) {
    super.insert(p);
    beside(p);
  }

  @Override
  public boolean update(Promotion p) {
    if (!super.update(p)) {
      return false;
    }
    beside(p);
    return true;
  }

  @Override
  public boolean remove(String id) {
    boolean removed = super.remove(id); // it reads once more whose it was
    mapper().removeMatter(id);
    return removed;
  }

  @Override
  public Slice<PromotionHead> heads(Filter filter, Sight sight) {
    return Parts.of(filter, sight, mapper()::promotionHeads, PromotionRow::ordinal)
        .map(PromotionRow::head);
  }

  /** Brings those of an earlier Plenzo into the present form. */
  void bringUp() {
    rewrite(this::beside);
  }
}
