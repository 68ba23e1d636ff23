/** Whose a row is: of whom it names, or of who its visitor is. Looked up row by row: joined, the planner takes a handful of rows for a hundred, and reads all visitors. */
export const personOfRow = "coalesce(b.person_id, (select v.person_id from visitor v where v.id = b.visitor_id), b.visitor_id)";
