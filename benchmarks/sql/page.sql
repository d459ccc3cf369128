select id from line where {where} order by {order}, title_key, id limit 100
